import { Button, Modal } from 'antd';
import { SecretShown } from '../../entities/account/index.js';

interface Props {
  readonly name: string;
  readonly secret: string;
  readonly onClose: () => void;
}

/** A new secret, shown once. */
export function LoggerSecretShown({ name, secret, onClose }: Props) {
  return (
    <Modal open title={`Secret of ${name}`} onCancel={onClose} footer={<Button onClick={onClose}>Copied</Button>}>
      <SecretShown
        secret={secret}
        says="The logger sends it as hello.secret from now on; the one before no longer works. Without any accounts a logger that has no secret is heard too."
      />
    </Modal>
  );
}
