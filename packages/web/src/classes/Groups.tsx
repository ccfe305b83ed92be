import { useState } from 'react';
import { Alert, Button, Input, Popconfirm, Select } from 'antd';
import type { Roster } from '@contactum/contract';
import { useClassHands } from '../api/college.js';

/** Groups of a class: an exercise can be set to one of them alone. */
export function Groups({ roster }: { roster: Roster }) {
  const { putGroup } = useClassHands(roster.id);
  const [name, setName] = useState('');
  const { error } = putGroup;
  return (
    <>
      <GroupTable roster={roster} />
      {roster.groups.length === 0 && (
        <p className="quiet">No groups yet. Create one to assign an exercise to part of the class.</p>
      )}
      <span className="hand-row">
        <Input
          aria-label="Name of a new group"
          placeholder="name of a new group"
          value={name}
          style={{ width: 240 }}
          maxLength={100}
          onChange={({ target }) => setName(target.value)}
        />
        <Button
          disabled={name.trim() === ''}
          loading={putGroup.isPending}
          onClick={() =>
            putGroup.mutate(
              { groupId: null, name: name.trim(), members: [] },
              { onSuccess: () => setName('') },
            )
          }
        >
          Create group
        </Button>
      </span>
      {error && <Alert type="error" showIcon title={error.message} />}
    </>
  );
}

function GroupTable({ roster }: { roster: Roster }) {
  const { putGroup, removeGroup } = useClassHands(roster.id);
  const options = roster.members.map(({ id, name: label }) => ({ value: id, label }));
  const error = putGroup.error ?? removeGroup.error;
  return (
    <>
      <table className="plain groups-table">
        <tbody>
          {roster.groups.map(({ id, name: own, members }) => (
            <tr key={id}>
              <th scope="row">{own}</th>
              <td>
                <Select
                  mode="multiple"
                  aria-label={`Members of ${own}`}
                  value={[...members]}
                  options={options}
                  showSearch={{ optionFilterProp: 'label' }}
                  style={{ width: '100%' }}
                  onChange={(next: string[]) => putGroup.mutate({ groupId: id, name: own, members: next })}
                />
              </td>
              <td>
                <Popconfirm
                  title={`Delete the group ${own}?`}
                  okText="Delete"
                  onConfirm={() => removeGroup.mutate(id)}
                >
                  <Button size="small" type="text">
                    Delete
                  </Button>
                </Popconfirm>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {error && <Alert type="error" showIcon title={error.message} />}
    </>
  );
}
