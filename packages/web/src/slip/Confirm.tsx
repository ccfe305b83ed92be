import { useState } from 'react';
import { Alert, Button, Checkbox } from 'antd';
import type { Person, Slip } from '@contactum/contract';
import { useConfirmSheet } from '../api/queries.js';

/** A sheet that its student has entered: an instructor looks at the board and stands for it. */
export function Confirm({ slip, person }: { slip: Slip; person: Person }) {
  const [permitted, setPermitted] = useState(false);
  const confirm = useConfirmSheet(slip.attempt.id);
  if (person.role === 'student')
    return (
      <Alert
        type="warning"
        showIcon
        title="Unconfirmed: this mark counts when your instructor has confirmed the sheet."
      />
    );
  return (
    <section className="confirm" aria-label="Confirm this sheet">
      <Alert
        type="warning"
        showIcon
        title={`${slip.student.name} has entered this sheet. Its mark counts nowhere until it is confirmed.`}
        description={
          <>
            <Checkbox checked={permitted} onChange={({ target }) => setPermitted(target.checked)}>
              I, {person.name}, gave permission to energise this board.
            </Checkbox>
            <p>
              <Button type="primary" loading={confirm.isPending} onClick={() => confirm.mutate(permitted)}>
                I have seen this board: confirm the sheet
              </Button>
            </p>
            {confirm.isError && <p className="must">{confirm.error.message}</p>}
          </>
        }
      />
    </section>
  );
}
