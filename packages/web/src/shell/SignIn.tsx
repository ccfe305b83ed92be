import { Alert, Button, Form, Input } from 'antd';
import { useSignIn } from '../api/queries.js';
import './shell.css';

/** The door. */
export function SignIn() {
  const signIn = useSignIn();
  return (
    <div className="door">
      <main className="door-card">
        <Mark />
        <h1>Contactum</h1>
        <p className="quiet">Wire a control board, work it, and see it proved.</p>
        <Form
          layout="vertical"
          requiredMark={false}
          onFinish={(values: { login: string; password: string }) => signIn.mutate(values)}
        >
          <Form.Item label="Name" name="login" rules={[{ required: true, message: 'Type your name.' }]}>
            <Input autoFocus autoComplete="username" autoCapitalize="none" />
          </Form.Item>
          <Form.Item
            label="Password"
            name="password"
            rules={[{ required: true, message: 'Type your password.' }]}
          >
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          {signIn.isError && (
            <Alert type="error" showIcon title={signIn.error.message} style={{ marginBottom: 16 }} />
          )}
          <Button type="primary" htmlType="submit" block loading={signIn.isPending}>
            Sign in
          </Button>
        </Form>
      </main>
    </div>
  );
}

/** An open contact: the sign of the house. */
export function Mark() {
  return (
    <svg className="mark" viewBox="0 0 32 32" aria-hidden="true">
      <rect width="32" height="32" rx="4" fill="#0f6b6f" />
      <path
        d="M16 4v7M16 28v-7M16 21 9 10"
        stroke="#f4f1ea"
        strokeWidth="3"
        strokeLinecap="round"
        fill="none"
      />
    </svg>
  );
}
