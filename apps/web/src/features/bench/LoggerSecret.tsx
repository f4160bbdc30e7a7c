import { Button, Modal } from 'antd';
import { useState } from 'react';
import type { Part } from '@ebrix/contract';
import { SecretShown, useRenewLoggerSecretMutation } from '../../entities/account/index.js';
import { useNotices } from '../../shared/ui/use-notices.js';

/** A secret by which a logger shows that it is the one; making one stops the one before. */
export function LoggerSecret({ part }: { readonly part: Part }) {
  const [renew, { isLoading }] = useRenewLoggerSecretMutation();
  const [secret, setSecret] = useState<string>();
  const { failure } = useNotices();
  const make = async (): Promise<void> => {
    const answer = await renew(part.id);
    if (!failure(answer)) setSecret(answer.data?.secret);
  };
  return (
    <>
      <Button size="small" loading={isLoading} aria-label={`New secret of ${part.name}`} onClick={() => void make()}>
        New secret
      </Button>
      {secret !== undefined && (
        <Modal
          open
          title={`Secret of ${part.name}`}
          onCancel={() => setSecret(undefined)}
          footer={<Button onClick={() => setSecret(undefined)}>Copied</Button>}
        >
          <SecretShown
            secret={secret}
            says="The logger sends it as hello.secret from now on; the one before no longer works. Without any accounts a logger that has no secret is heard too."
          />
        </Modal>
      )}
    </>
  );
}
