import { useState } from 'react';
import { Alert, Button, Input } from 'antd';
import dayjs from 'dayjs';
import type { Person, Slip } from '@contactum/contract';
import { useSlipChanges } from '../api/queries.js';

/** What instructors wrote to the student about this attempt. */
export function Remarks({ slip, person }: { slip: Slip; person: Person }) {
  const { remark } = useSlipChanges(slip.attempt.id);
  const [text, setText] = useState('');
  return (
    <section aria-label="Remarks">
      <h2>Remarks</h2>
      {slip.remarks.length === 0 && <p className="quiet">No remark.</p>}
      {slip.remarks.map((one) => (
        <blockquote key={one.id}>
          <p>{one.text}</p>
          <footer className="quiet">
            {one.by}, {dayjs(one.at).format('D MMM YYYY, HH:mm')}
          </footer>
        </blockquote>
      ))}
      {person.role !== 'student' && (
        <div className="remark-form">
          <Input.TextArea
            aria-label="New remark"
            rows={2}
            maxLength={2000}
            value={text}
            placeholder="What should this student look at?"
            onChange={({ target }) => setText(target.value)}
          />
          <Button
            disabled={text.trim() === ''}
            loading={remark.isPending}
            onClick={() => remark.mutate(text.trim(), { onSuccess: () => setText('') })}
          >
            Add remark
          </Button>
          {remark.isError && <Alert type="error" showIcon title={remark.error.message} />}
        </div>
      )}
    </section>
  );
}
