import { Button } from 'antd';
import { useState } from 'react';
import type { Part } from '@ebrix/contract';
import { useRenewLoggerSecretMutation } from '../../entities/account/index.js';
import { piece, useOpened } from '../../shared/ui/piece.js';
import { useNotices } from '../../shared/ui/use-notices.js';

const secretShown = piece(async () => (await import('./LoggerSecretShown.js')).LoggerSecretShown);

/** A secret by which a logger shows that it is the one; making one stops the one before. */
export function LoggerSecret({ part }: { readonly part: Part }) {
  const [renew, { isLoading }] = useRenewLoggerSecretMutation();
  const [secret, setSecret] = useState<string>();
  const { value: isOpen, open, close } = useOpened(secretShown);
  const { failure } = useNotices();
  const make = async (): Promise<void> => {
    // What shows it is there before it is made: it is told only once.
    if (!(await open(true))) return;
    const answer = await renew(part.id);
    if (failure(answer)) close();
    else setSecret(answer.data?.secret);
  };
  return (
    <>
      <Button size="small" loading={isLoading} aria-label={`New secret of ${part.name}`} onClick={() => void make()}>
        New secret
      </Button>
      {isOpen && secret !== undefined && (
        <secretShown.Part
          name={part.name}
          secret={secret}
          onClose={() => {
            setSecret(undefined);
            close();
          }}
        />
      )}
    </>
  );
}
