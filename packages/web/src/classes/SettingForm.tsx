import { useState } from 'react';
import { Collapse, DatePicker, InputNumber, Segmented, Select, Switch } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import type { AssignmentForInstructor, Roster } from '@contactum/contract';

/** What can be said of an exercise that is set: to whom, when, how often, how it counts. */
export type SettingValues = Pick<
  AssignmentForInstructor,
  | 'opensAt'
  | 'dueAt'
  | 'closesAt'
  | 'attemptsAllowed'
  | 'counts'
  | 'mode'
  | 'variants'
  | 'audience'
  | 'groupId'
  | 'people'
  | 'extra'
>;

export const PLAIN: SettingValues = {
  opensAt: null,
  dueAt: null,
  closesAt: null,
  attemptsAllowed: null,
  counts: 'best',
  mode: 'practice',
  variants: false,
  audience: 'class',
  groupId: null,
  people: [],
  extra: [],
};

/** What is said of a setting, and nothing else that is known of it. */
export function asked(values: SettingValues) {
  const { opensAt, dueAt, closesAt, attemptsAllowed, counts, mode, variants } = values;
  const { audience, groupId, people, extra } = values;
  return {
    ...{ opensAt, dueAt, closesAt, attemptsAllowed, counts, mode, variants, audience, groupId },
    people: [...people],
    extra: [...extra],
  };
}

const FORMAT = 'D MMM YYYY HH:mm';

export function SettingForm({
  roster,
  values,
  onChange,
}: {
  roster: Roster;
  values: SettingValues;
  onChange: (values: SettingValues) => void;
}) {
  const set = (change: Partial<SettingValues>) => onChange({ ...values, ...change });
  const members = roster.members.map(({ id, name }) => ({ value: id, label: name }));
  const date = (label: string, key: 'opensAt' | 'dueAt' | 'closesAt', hint: string) => (
    <label className="setting-row">
      <span>{label}</span>
      <DatePicker
        aria-label={label}
        showTime={{ format: 'HH:mm' }}
        format={FORMAT}
        value={values[key] === null ? null : dayjs(values[key])}
        placeholder={hint}
        onChange={(to: Dayjs | null) => set({ [key]: to ? to.toISOString() : null })}
      />
    </label>
  );
  return (
    <div className="setting-form">
      <Whom roster={roster} members={members} values={values} set={set} />
      {date('Opens', 'opensAt', 'at once')}
      {date('Due', 'dueAt', 'at no time')}
      {date('Closes', 'closesAt', 'never; what is open is handed in then')}
      <Counting values={values} set={set} />
      <Extra members={members} values={values} set={set} />
    </div>
  );
}

interface Part {
  readonly values: SettingValues;
  readonly set: (change: Partial<SettingValues>) => void;
}

type Member = { readonly value: string; readonly label: string };

/** To the class, a group or single people. */
function Whom({ roster, members, values, set }: Part & { roster: Roster; members: Member[] }) {
  return (
    <>
      <label className="setting-row">
        <span>To</span>
        <Segmented<SettingValues['audience']>
          aria-label="Assigned to"
          value={values.audience}
          options={[
            { value: 'class', label: 'the whole class' },
            { value: 'group', label: 'a group', disabled: roster.groups.length === 0 },
            { value: 'people', label: 'single people' },
          ]}
          onChange={(audience) => set({ audience })}
        />
      </label>
      {values.audience === 'group' && (
        <label className="setting-row">
          <span>Group</span>
          <Select
            aria-label="Group"
            value={values.groupId}
            options={roster.groups.map(({ id, name, members: own }) => ({
              value: id,
              label: `${name} (${own.length})`,
            }))}
            onChange={(groupId: string) => set({ groupId })}
          />
        </label>
      )}
      {values.audience === 'people' && (
        <label className="setting-row">
          <span>People</span>
          <Select
            mode="multiple"
            aria-label="People"
            showSearch={{ optionFilterProp: 'label' }}
            value={[...values.people]}
            options={members}
            onChange={(people: string[]) => set({ people })}
          />
        </label>
      )}
    </>
  );
}

/** How often it may be tried, what counts, and whether it is an assessment. */
function Counting({ values, set }: Part) {
  return (
    <>
      <label className="setting-row">
        <span>Attempts</span>
        <InputNumber
          aria-label="Attempts"
          min={1}
          max={100}
          value={values.attemptsAllowed}
          placeholder="as many as they like"
          style={{ width: 200 }}
          onChange={(next) => set({ attemptsAllowed: next })}
        />
      </label>
      <label className="setting-row">
        <span>What counts</span>
        <Segmented<SettingValues['counts']>
          aria-label="What counts"
          value={values.counts}
          options={[
            { value: 'best', label: 'the best attempt' },
            { value: 'last', label: 'the last attempt' },
          ]}
          onChange={(counts) => set({ counts })}
        />
      </label>
      <SwitchRow
        label="Assessment"
        on={values.mode === 'assessment'}
        says="shows neither reference, progress nor tests; marks are shown when it has closed"
        onSwitch={(on) => set({ mode: on ? 'assessment' : 'practice' })}
      />
      <SwitchRow
        label="Variants"
        on={values.variants}
        says="every student gets an equally hard board: other designations, contacts, places, plate and voltage"
        onSwitch={(variants) => set({ variants })}
      />
    </>
  );
}

/** Something that is on or off, and what it does. */
function SwitchRow({
  label,
  on,
  says,
  onSwitch,
}: {
  label: string;
  on: boolean;
  says: string;
  onSwitch: (on: boolean) => void;
}) {
  return (
    <label className="setting-row">
      <span>{label}</span>
      <span>
        <Switch aria-label={label} checked={on} onChange={onSwitch} /> <span className="quiet">{says}</span>
      </span>
    </label>
  );
}

/** More time for single people. */
function Extra({ members, values, set }: Part & { members: Member[] }) {
  const nameOf = (id: string) => members.find(({ value }) => value === id)?.label ?? '';
  return (
    <Collapse
      ghost
      size="small"
      items={[
        {
          key: 'extra',
          label: `More time for single people (${values.extra.length})`,
          children: (
            <>
              {values.extra.map(({ studentId, minutes: more }) => (
                <MoreTime
                  key={studentId}
                  name={nameOf(studentId)}
                  minutes={more}
                  onMinutes={(next) =>
                    set({
                      extra: values.extra.map((one) =>
                        one.studentId === studentId ? { ...one, minutes: next } : one,
                      ),
                    })
                  }
                />
              ))}
              <Somebody members={members} values={values} set={set} />
              <p className="quiet">
                It is due and closes so much later, and the time for the work is so much longer.
              </p>
            </>
          ),
        },
      ]}
    />
  );
}

function MoreTime({
  name,
  minutes,
  onMinutes,
}: {
  name: string;
  minutes: number;
  onMinutes: (minutes: number) => void;
}) {
  return (
    <span className="hand-row">
      {name}
      <InputNumber
        size="small"
        aria-label={`More time for ${name}`}
        min={0}
        max={100_000}
        value={minutes}
        suffix="min"
        onChange={(next) => onMinutes(next ?? 0)}
      />
    </span>
  );
}

/** Who gets more time, and how much. */
function Somebody({ members, values, set }: Part & { members: Member[] }) {
  const [minutes, setMinutes] = useState(30);
  return (
    <span className="hand-row">
      <Select
        size="small"
        aria-label="Somebody who gets more time"
        placeholder="somebody"
        showSearch={{ optionFilterProp: 'label' }}
        value={null}
        style={{ width: 200 }}
        options={members.filter(({ value }) => !values.extra.some(({ studentId }) => studentId === value))}
        onChange={(studentId: string | null) =>
          studentId && set({ extra: [...values.extra, { studentId, minutes }] })
        }
      />
      <InputNumber
        size="small"
        aria-label="More time, minutes"
        min={1}
        max={100_000}
        value={minutes}
        suffix="min"
        onChange={(next) => setMinutes(next ?? 30)}
      />
    </span>
  );
}
