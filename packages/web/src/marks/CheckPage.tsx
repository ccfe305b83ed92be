import { useState } from 'react';
import { Alert, Button, Form, Input } from 'antd';
import { useMutation } from '@tanstack/react-query';
import dayjs from 'dayjs';
import type { CheckedCertificate } from '@contactum/contract';
import { ask } from '../api/client.js';
import { Mark } from '../shell/Mark.js';
import '../shell/shell.css';

/** Checks a line of a certificate, for whoever holds it; nobody need be signed in. */
export function CheckPage() {
  const [line, setLine] = useState({ number: '', code: '' });
  const check = useMutation({
    mutationFn: () =>
      ask<CheckedCertificate>(
        'GET',
        `/certificates/${encodeURIComponent(line.number.trim())}/${encodeURIComponent(line.code.trim())}`,
      ),
  });
  return (
    <main className="door">
      <div className="door-card">
        <Mark />
        <h1>Check a certificate</h1>
        <Form layout="vertical" onFinish={() => check.mutate()}>
          <Form.Item label="Number of the evidence pack">
            <Input
              aria-label="Number of the evidence pack"
              value={line.number}
              maxLength={40}
              onChange={({ target }) => setLine({ ...line, number: target.value })}
            />
          </Form.Item>
          <Form.Item label="Code">
            <Input
              aria-label="Code"
              value={line.code}
              maxLength={20}
              onChange={({ target }) => setLine({ ...line, code: target.value })}
            />
          </Form.Item>
          <Button
            type="primary"
            htmlType="submit"
            block
            disabled={line.number.trim() === '' || line.code.trim() === ''}
            loading={check.isPending}
          >
            Check
          </Button>
        </Form>
        {check.isError && (
          <Alert
            type="error"
            showIcon
            title="Not confirmed by the college’s records: the number or code is wrong, or the mark was changed since."
          />
        )}
        {check.data && (
          <Alert
            type="success"
            showIcon
            title={`${check.data.student}: ${check.data.exercise}`}
            description={told(check.data)}
          />
        )}
      </div>
    </main>
  );
}

function told({ recorded, max, passed, handedInAt, className }: CheckedCertificate): string {
  const day = handedInAt ? `, ${dayjs(handedInAt).format('D MMMM YYYY')}` : '';
  return `${recorded} of ${max} points, ${passed ? 'passed' : 'not passed'}${day}, ${className}.`;
}
