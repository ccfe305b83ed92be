import { useState } from 'react';
import { Button, InputNumber, Select } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import type { AssessmentRequest, Person } from '@contactum/contract';

type Extra = AssessmentRequest['extra'];

/** Who has more time than the others, and how much. */
export function MoreTimeRows({
  members,
  extra,
  onExtra,
}: {
  members: readonly Pick<Person, 'id' | 'name'>[];
  extra: Extra;
  onExtra: (extra: Extra) => void;
}) {
  const [minutes, setMinutes] = useState(15);
  const left = members.filter(({ id }) => !extra.some(({ studentId }) => studentId === id));
  return (
    <>
      {extra.map(({ studentId, minutes: more }) => {
        const name = members.find(({ id }) => id === studentId)?.name ?? '';
        return (
          <div key={studentId} className="more-time">
            <span>{name}</span>
            <InputNumber
              aria-label={`More time for ${name}`}
              min={0}
              max={600}
              value={more}
              suffix="min"
              onChange={(next) =>
                onExtra(
                  extra.map((one) => (one.studentId === studentId ? { ...one, minutes: next ?? 0 } : one)),
                )
              }
            />
            <Button
              type="text"
              aria-label={`Remove the time of ${name}`}
              icon={<DeleteOutlined />}
              onClick={() => onExtra(extra.filter((one) => one.studentId !== studentId))}
            />
          </div>
        );
      })}
      <div className="more-time">
        <Select
          aria-label="Somebody who gets more time"
          placeholder="somebody"
          showSearch={{ optionFilterProp: 'label' }}
          value={null}
          options={left.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(studentId: string | null) => studentId && onExtra([...extra, { studentId, minutes }])}
        />
        <InputNumber
          aria-label="More time, minutes"
          min={1}
          max={600}
          value={minutes}
          suffix="min"
          onChange={(next) => setMinutes(next ?? 15)}
        />
      </div>
    </>
  );
}
