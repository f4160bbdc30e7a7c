import { Button, Form, Input, Modal } from 'antd';
import { useEffect } from 'react';
import { LibraryTheme } from '../../shared/ui/LibraryTheme.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useSessionQuery, useSignInMutation } from './api.js';

/** Over the page, which keeps what was typed: who comes in goes on where they were. */
export default function SignInForm({ onDone }: { readonly onDone: () => void }) {
  const { data } = useSessionQuery(undefined, { refetchOnMountOrArgChange: true });
  const [signIn, { error, isLoading }] = useSignInMutation();
  const isIn = data?.state === 'signed-in' || data?.state === 'no-accounts';
  useEffect(() => {
    if (isIn) onDone();
  }, [isIn, onDone]);
  return (
    <LibraryTheme>
      <Modal open title="Sign in" closable={false} keyboard={false} footer={null} width={360} destroyOnHidden>
        <Form
          layout="vertical"
          requiredMark={false}
          onFinish={(typed: { name: string; password: string }) => void signIn(typed)}
        >
          <Form.Item label="Name" name="name" rules={[{ required: true, message: 'Type your name.' }]}>
            <Input autoComplete="username" autoFocus maxLength={80} />
          </Form.Item>
          <Form.Item label="Password" name="password" rules={[{ required: true, message: 'Type your password.' }]}>
            <Input.Password autoComplete="current-password" maxLength={200} />
          </Form.Item>
          {error !== undefined && <Problem error={error} />}
          <Button type="primary" htmlType="submit" loading={isLoading} block>
            Sign in
          </Button>
          <p className="quiet mt-8">
            Forgotten? An owner sets a new one under Upkeep, or at the machine itself: <code>npm run account</code>.
          </p>
        </Form>
      </Modal>
    </LibraryTheme>
  );
}
