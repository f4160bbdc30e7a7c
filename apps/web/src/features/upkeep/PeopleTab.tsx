import { Button, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { ROLES, type Account, type Role, type SessionState } from '@ebrix/contract';
import {
  useAccountsQuery,
  useAddAccountMutation,
  useChangeAccountMutation,
  useSessionQuery,
  useSignInMutation,
} from '../../entities/account/index.js';
import { formatMoment } from '../../shared/format/format-quantity.js';
import { Section } from '../../shared/ui/Lines.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Keys } from './Keys.js';
import { OwnAccount } from './OwnAccount.js';
import { Wide } from '../../shared/ui/Wide.js';

const ROLE_SAYS: Readonly<Record<Role, string>> = {
  reader: 'reader: sees, and takes out',
  tester: 'tester: rides, imports, edits',
  owner: 'owner: also lets people in, and restores',
};
const ROLE_OPTIONS = ROLES.map((value) => ({ value, label: ROLE_SAYS[value] }));

export function PeopleTab() {
  const query = useSessionQuery();
  return <QueryView query={query}>{(session) => <Shown session={session} />}</QueryView>;
}

function Shown({ session: { state, account } }: { readonly session: SessionState }) {
  if (state === 'no-accounts')
    return (
      <Section
        title="Nobody has to sign in yet"
        say="Ebrix answers only the machine it runs on, and there everything is open. The first account closes the door: from then on everybody signs in, and other machines and phones may be let in."
      >
        <AddAccount isFirst />
      </Section>
    );
  if (account === null) return null;
  return (
    <>
      <OwnAccount account={account} />
      {account.role === 'owner' && <Accounts ownId={account.id} />}
      <Keys role={account.role} />
    </>
  );
}

interface Typed {
  name: string;
  password: string;
  role?: Role;
}
function AddAccount({ isFirst = false }: { readonly isFirst?: boolean }) {
  const [form] = Form.useForm<Typed>();
  const [add, { error, isLoading }] = useAddAccountMutation();
  const [signIn] = useSignInMutation();
  const { success } = useNotices();
  const store = async ({ name, password, role = 'owner' }: Typed): Promise<void> => {
    const { data } = await add({ name, password, role });
    if (!data) return;
    form.resetFields();
    if (isFirst) await signIn({ name, password });
    success(isFirst ? `The door is closed; you are signed in as ${data.name}.` : `${data.name} may come in now.`);
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      onFinish={(typed) => void store(typed)}
      className="account-form"
    >
      <Form.Item label="Name" name="name" rules={[{ required: true, message: 'Give a name.' }]}>
        <Input autoComplete="off" maxLength={80} />
      </Form.Item>
      <Form.Item
        label="Password"
        name="password"
        extra="Long rather than odd: four words in a row."
        rules={[{ required: true, min: 10, message: 'At least 10 characters.' }]}
      >
        <Input.Password autoComplete="new-password" maxLength={200} />
      </Form.Item>
      {!isFirst && (
        <Form.Item label="Role" name="role" initialValue="tester">
          <Select options={ROLE_OPTIONS} />
        </Form.Item>
      )}
      {error !== undefined && <Problem error={error} />}
      <Button type={isFirst ? 'primary' : 'default'} htmlType="submit" loading={isLoading}>
        {isFirst ? 'Add the first account' : 'Add an account'}
      </Button>
    </Form>
  );
}

function Accounts({ ownId }: { readonly ownId: string }) {
  const query = useAccountsQuery();
  return (
    <Section title="Accounts">
      <QueryView query={query}>
        {(accounts) => (
          <Wide label="Accounts there are">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">Role</th>
                  <th scope="col">Last seen</th>
                  <th scope="col">
                    <span className="unseen">Actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {accounts.map((account) => (
                  <AccountRow key={account.id} account={account} isOwn={account.id === ownId} />
                ))}
              </tbody>
            </table>
          </Wide>
        )}
      </QueryView>
      <details className="mt-12">
        <summary>Add an account</summary>
        <AddAccount />
      </details>
    </Section>
  );
}

function AccountRow({ account, isOwn }: { readonly account: Account; readonly isOwn: boolean }) {
  const { id, version, name, role, isBlocked, lastSeenAt } = account;
  const [change, { isLoading }] = useChangeAccountMutation();
  const [isAsking, setAsking] = useState(false);
  const { failure, success } = useNotices();
  const store = async (to: { role?: Role; isBlocked?: boolean; password?: string }): Promise<void> => {
    const answer = await change({ id, change: { version, role, isBlocked, ...to } });
    if (!failure(answer) && to.password) {
      setAsking(false);
      success(`${name} was signed out everywhere and comes in by the new password.`);
    }
  };
  return (
    <tr className={isBlocked ? 'quiet' : ''}>
      <th scope="row" className="pair">
        {name}
        {isBlocked && <span className="quiet"> (blocked)</span>}
      </th>
      <td>
        <Select
          aria-label={`Role of ${name}`}
          value={role}
          options={ROLES.map((value) => ({ value, label: value }))}
          loading={isLoading}
          onChange={(to) => void store({ role: to })}
        />
      </td>
      <td className="figures">{lastSeenAt === null ? 'never' : formatMoment(lastSeenAt)}</td>
      <td>
        <span className="actions justify-end">
          {isAsking ? (
            <Form layout="inline" onFinish={({ password }: { password: string }) => void store({ password })}>
              <Form.Item name="password" rules={[{ required: true, min: 10, message: 'At least 10 characters.' }]}>
                <Input.Password aria-label={`New password of ${name}`} autoComplete="new-password" maxLength={200} />
              </Form.Item>
              <Button htmlType="submit">Set</Button>
            </Form>
          ) : (
            <Button size="small" onClick={() => setAsking(true)}>
              New password
            </Button>
          )}
          {!isOwn && (
            <Button size="small" onClick={() => void store({ isBlocked: !isBlocked })}>
              {isBlocked ? 'Let in again' : 'Block'}
            </Button>
          )}
        </span>
      </td>
    </tr>
  );
}
