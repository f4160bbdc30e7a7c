import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import type { SessionState, SignInCode } from '@ebrix/contract';
import {
  useChangePasswordMutation,
  useDevicesQuery,
  useMakeSignInCodeMutation,
  useSignDeviceOutMutation,
  useSignOutMutation,
} from '../../entities/account/index.js';
import { SIGNED_OUT } from '../../shared/api/base-api.js';
import { formatMoment } from '../../shared/format/format-quantity.js';
import { Section } from '../../shared/ui/Lines.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { PhoneCode } from './PhoneCode.js';
import { Wide } from '../../shared/ui/Wide.js';

/** Oneself: role, password, phones and other devices. */
export function OwnAccount({ account: { name, role } }: { readonly account: NonNullable<SessionState['account']> }) {
  const [signOut] = useSignOutMutation();
  const [makeCode, { isLoading }] = useMakeSignInCodeMutation();
  const [code, setCode] = useState<SignInCode>();
  const { failure } = useNotices();
  const leave = async (): Promise<void> => {
    if (!failure(await signOut())) dispatchEvent(new Event(SIGNED_OUT));
  };
  const show = async (): Promise<void> => {
    const answer = await makeCode();
    if (!failure(answer)) setCode(answer.data);
  };
  return (
    <Section title={`You are ${name}, ${role}`}>
      <div className="actions">
        <Button onClick={() => void show()} loading={isLoading}>
          Let a phone in
        </Button>
        <Button onClick={() => void leave()}>Sign out</Button>
      </div>
      {code && <PhoneCode code={code} />}
      <Devices />
      <details className="mt-12">
        <summary>Change the password</summary>
        <ChangePassword />
      </details>
    </Section>
  );
}

function ChangePassword() {
  const [form] = Form.useForm<{ before: string; after: string }>();
  const [change, { error, isLoading }] = useChangePasswordMutation();
  const { success } = useNotices();
  const store = async (typed: { before: string; after: string }): Promise<void> => {
    if ((await change(typed)).error !== undefined) return;
    form.resetFields();
    success('Changed. Every other device was signed out.');
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      onFinish={(typed) => void store(typed)}
      className="account-form"
    >
      <Form.Item
        label="Password so far"
        name="before"
        rules={[{ required: true, message: 'Type the password so far.' }]}
      >
        <Input.Password autoComplete="current-password" maxLength={200} />
      </Form.Item>
      <Form.Item
        label="New password"
        name="after"
        rules={[{ required: true, min: 10, message: 'At least 10 characters.' }]}
      >
        <Input.Password autoComplete="new-password" maxLength={200} />
      </Form.Item>
      {error !== undefined && <Problem error={error} />}
      <Button htmlType="submit" loading={isLoading}>
        Change
      </Button>
    </Form>
  );
}

function Devices() {
  const { data = [] } = useDevicesQuery();
  const [signOut] = useSignDeviceOutMutation();
  const { failure } = useNotices();
  if (data.length === 0) return null;
  return (
    <Wide label="Signed in" className="mt-12">
      <table className="rows">
        <caption className="quiet align-left">Signed in</caption>
        <thead>
          <tr>
            <th scope="col">Who</th>
            <th scope="col">Since</th>
            <th scope="col">Last seen</th>
            <th scope="col">By</th>
            <th scope="col">
              <span className="unseen">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map(({ id, accountName, device, signedInAt, lastSeenAt, isThisOne }) => (
            <tr key={id}>
              <th scope="row" className="pair">
                {accountName}
              </th>
              <td className="figures">{formatMoment(signedInAt)}</td>
              <td className="figures">{formatMoment(lastSeenAt)}</td>
              <td>{device}</td>
              <td className="number">
                {isThisOne ? (
                  'this one'
                ) : (
                  <Button
                    size="small"
                    aria-label={`Sign out: ${accountName}, since ${formatMoment(signedInAt)}`}
                    onClick={() => void signOut(id).then(failure)}
                  >
                    Sign out
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}
