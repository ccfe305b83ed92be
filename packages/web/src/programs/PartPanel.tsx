import { Button, Select, Space } from 'antd';
import {
  contactOf,
  elementAt,
  examined,
  kindOfAction,
  kindOfContact,
  readableBits,
  workedBy,
  type ActionKind,
  type ContactKind,
  type Program,
} from '@contactum/core';
import {
  ACTION_WORDS,
  CONTACT_WORDS,
  actionOf,
  addAction,
  insertBranch,
  insertContact,
  removeChosen,
  replaceAction,
  replaceContact,
  workable,
  type Chosen,
} from './rung-parts.js';

export type Naming = 'iec' | 'examine';

interface Props {
  readonly program: Program;
  readonly chosen: Chosen;
  readonly naming: Naming;
  readonly onChange: (program: Program, chosen: Chosen | null) => void;
}

/** What can be done with the part of a rung that is chosen. */
export function PartPanel(props: Props) {
  const { program, chosen, onChange } = props;
  const inserted = () => {
    const next = insertContact(program, chosen);
    onChange(next.program, next.chosen);
  };
  const output = () => {
    const next = addAction(program, chosen.rung);
    if (next) onChange(next.program, next.chosen);
  };
  return (
    <div className="part-panel" role="toolbar" aria-label="Part of the rung">
      <Space size={6} wrap>
        {'path' in chosen && <ContactFields {...props} chosen={chosen} />}
        {'action' in chosen && <ActionFields {...props} chosen={chosen} />}
        <Button size="small" onClick={inserted}>
          Add contact
        </Button>
        {'path' in chosen && (
          <Button
            size="small"
            onClick={() => {
              const next = insertBranch(program, chosen);
              onChange(next.program, next.chosen);
            }}
          >
            Add branch
          </Button>
        )}
        <Button size="small" onClick={output}>
          Add coil
        </Button>
        <Button size="small" danger onClick={() => onChange(removeChosen(program, chosen), null)}>
          {'path' in chosen || 'action' in chosen ? 'Remove' : 'Remove rung'}
        </Button>
      </Space>
    </div>
  );
}

const options = (names: readonly string[]) => names.map((value) => ({ value, label: value }));

function ContactFields({
  program,
  chosen,
  naming,
  onChange,
}: Props & { chosen: Extract<Chosen, { path: unknown }> }) {
  const rung = program.rungs[chosen.rung];
  const element = rung && elementAt(rung.when, chosen.path);
  if (!element || 'any' in element) return null;
  const set = (kind: ContactKind, bit: string) =>
    onChange(replaceContact(program, chosen, contactOf(kind, bit)), chosen);
  const kind = kindOfContact(element);
  return (
    <>
      <Select<ContactKind>
        size="small"
        aria-label="Kind of contact"
        className="part-kind"
        value={kind}
        options={(Object.keys(CONTACT_WORDS) as ContactKind[]).map((value) => ({
          value,
          label: CONTACT_WORDS[value][naming],
        }))}
        onChange={(to) => set(to, examined(element))}
      />
      <Select
        size="small"
        showSearch
        aria-label="Variable of the contact"
        className="part-name"
        value={examined(element)}
        options={options(readableBits(program))}
        onChange={(bit: string) => set(kind, bit)}
      />
    </>
  );
}

function ActionFields({
  program,
  chosen,
  onChange,
}: Props & { chosen: Extract<Chosen, { action: unknown }> }) {
  const action = program.rungs[chosen.rung]?.then[chosen.action];
  if (!action) return null;
  const kind = kindOfAction(action);
  const reset = 'counter' in action ? action.reset : undefined;
  const set = (to: ActionKind, name: string | undefined, by?: string) => {
    if (name !== undefined) onChange(replaceAction(program, chosen, actionOf(to, name, by)), chosen);
  };
  return (
    <>
      <Select<ActionKind>
        size="small"
        aria-label="What the rung does"
        className="part-kind"
        value={kind}
        options={(Object.keys(ACTION_WORDS) as ActionKind[]).map((value) => ({
          value,
          label: ACTION_WORDS[value],
          disabled: workable(program, value).length === 0,
        }))}
        onChange={(to) => {
          const names = workable(program, to);
          set(to, names.includes(workedBy(action)) ? workedBy(action) : names[0]);
        }}
      />
      <Select
        size="small"
        showSearch
        aria-label="Variable of the coil"
        className="part-name"
        value={workedBy(action)}
        options={options(workable(program, kind))}
        onChange={(name: string) => set(kind, name, reset)}
      />
      {kind === 'counter' && (
        <Select
          size="small"
          showSearch
          allowClear
          aria-label="Reset by"
          placeholder="reset by"
          className="part-name"
          value={reset ?? null}
          options={options(readableBits(program))}
          onChange={(by: string | undefined) => set('counter', workedBy(action), by)}
        />
      )}
    </>
  );
}
