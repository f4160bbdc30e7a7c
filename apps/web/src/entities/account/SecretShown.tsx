import { Alert, Typography } from 'antd';

/** A secret, this once: afterwards only its hash is kept. */
export function SecretShown({ secret, says }: { readonly secret: string; readonly says: string }) {
  return (
    <Alert
      type="warning"
      role="status"
      title="Shown this once: copy it now"
      description={
        <>
          <Typography.Text code copyable className="secret">
            {secret}
          </Typography.Text>
          <p className="mt-6">{says}</p>
        </>
      }
    />
  );
}
