import { Button, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { ROLES, type NewAccessKey, type Role } from '@ebrix/contract';
import {
  SecretShown,
  useAccessKeysQuery,
  useAddAccessKeyMutation,
  useDeleteAccessKeyMutation,
} from '../../entities/account/index.js';
import { formatMoment } from '../../shared/format/format-quantity.js';
import { Section } from '../../shared/ui/Lines.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Wide } from '../../shared/ui/Wide.js';

/** Keys for scripts, calendars and small boxes, each with no more than its account's role. */
export function Keys({ role }: { readonly role: Role }) {
  const query = useAccessKeysQuery();
  const [form] = Form.useForm<{ label: string; role: Role }>();
  const [add, { error, isLoading }] = useAddAccessKeyMutation();
  const [remove] = useDeleteAccessKeyMutation();
  const [made, setMade] = useState<NewAccessKey>();
  const { failure } = useNotices();
  const roles = ROLES.slice(0, ROLES.indexOf(role) + 1);
  const store = async (typed: { label: string; role: Role }): Promise<void> => {
    const { data } = await add(typed);
    if (!data) return;
    form.resetFields();
    setMade(data);
  };
  return (
    <Section
      title="Keys"
      say="For scripts, and programs that cannot sign in. A key goes with a request as “Authorization: Bearer …”; a calendar takes it in its address."
    >
      <QueryView query={query}>
        {(keys) =>
          keys.length === 0 ? (
            <p className="quiet">No key was made.</p>
          ) : (
            <Wide label="Keys made">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">For</th>
                    <th scope="col">Of</th>
                    <th scope="col">Role</th>
                    <th scope="col">Last used</th>
                    <th scope="col">
                      <span className="unseen">Actions</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {keys.map(({ id, label, accountName, role: own, lastUsedAt }) => (
                    <tr key={id}>
                      <th scope="row" className="pair">
                        {label}
                      </th>
                      <td>{accountName}</td>
                      <td>{own}</td>
                      <td className="figures">{lastUsedAt === null ? 'never' : formatMoment(lastUsedAt)}</td>
                      <td className="number">
                        <Button
                          size="small"
                          aria-label={`Take back the key for ${label}`}
                          onClick={() => void remove(id).then(failure)}
                        >
                          Take back
                        </Button>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Wide>
          )
        }
      </QueryView>
      <Form
        form={form}
        layout="inline"
        requiredMark={false}
        className="mt-12"
        initialValues={{ role: 'reader' }}
        onFinish={(typed) => void store(typed)}
      >
        <Form.Item label="For" name="label" rules={[{ required: true, message: 'What is it for?' }]}>
          <Input maxLength={80} placeholder="Evening script" />
        </Form.Item>
        <Form.Item label="Role" name="role">
          <Select className="w-120" options={roles.map((value) => ({ value, label: value }))} />
        </Form.Item>
        <Button htmlType="submit" loading={isLoading}>
          Make a key
        </Button>
      </Form>
      {error !== undefined && <Problem error={error} />}
      {made && (
        <div className="mt-12">
          <SecretShown
            secret={made.secret}
            says={`For ${made.label}, as ${made.role}. Who has it can do what the role can.`}
          />
        </div>
      )}
    </Section>
  );
}
