import { Alert, Button, Form, Input, Modal } from 'antd';
import type { Person } from '@contactum/contract';
import { useSetPassword } from '../api/college.js';
import { useSignOut } from '../api/queries.js';
import { Mark } from './Mark.js';
import './shell.css';
import { useToasts } from './toasts.js';
import { whenValid } from './when-valid.js';

interface Values {
  readonly password: string;
  readonly next: string;
}

/** The present password and another one. */
function Fields({ present }: { present: string }) {
  return (
    <>
      <Form.Item label={present} name="password" rules={[{ required: true, message: 'Type it.' }]}>
        <Input.Password autoFocus autoComplete="current-password" />
      </Form.Item>
      <Form.Item
        label="New password"
        name="next"
        extra="At least 8 characters. A few words are better than a few signs."
        rules={[{ required: true, min: 8, message: 'At least 8 characters.' }]}
      >
        <Input.Password autoComplete="new-password" />
      </Form.Item>
    </>
  );
}

/** Who signs in with a first password sets another one before anything else. */
export function FirstPassword({ person }: { person: Person }) {
  const set = useSetPassword();
  const signOut = useSignOut();
  return (
    <div className="door">
      <main className="door-card">
        <Mark />
        <h1>Welcome, {person.name}</h1>
        <p className="quiet">The first password works only once. Choose one that only you know.</p>
        <Form layout="vertical" requiredMark={false} onFinish={(values: Values) => set.mutate(values)}>
          <Fields present="First password" />
          {set.isError && (
            <Alert type="error" showIcon title={set.error.message} style={{ marginBottom: 16 }} />
          )}
          <Button type="primary" htmlType="submit" block loading={set.isPending}>
            Save and continue
          </Button>
        </Form>
        <Button type="link" block onClick={() => signOut.mutate()}>
          Sign out
        </Button>
      </main>
    </div>
  );
}

/** Another password; whoever is signed in with the old one elsewhere is signed out. */
export function ChangePassword({ onClose }: { onClose: () => void }) {
  const set = useSetPassword();
  const [form] = Form.useForm<Values>();
  const message = useToasts();
  const go = () =>
    whenValid(form, (values) =>
      set.mutate(values, {
        onSuccess: () => {
          message.success('Your password is another one now. Everywhere else you are signed out.');
          onClose();
        },
      }),
    );
  return (
    <Modal
      open
      title="Change password"
      okText="Save"
      confirmLoading={set.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <Form form={form} layout="vertical" requiredMark={false}>
        <Fields present="Present password" />
      </Form>
      {set.isError && <Alert type="error" showIcon title={set.error.message} />}
    </Modal>
  );
}
