import { useMemo, useState } from 'react';
import { Alert, Button, Input, Select, Spin } from 'antd';
import { useSearchParams } from 'react-router';
import { FAMILIES, type Family, usualForm } from '@contactum/core';
import type { ExerciseSummary, Person } from '@contactum/contract';
import { useAnswerInvitation, useInvitations, useJoin } from '../api/college.js';
import { useExercises } from '../api/queries.js';
import { ExerciseCard } from './ExerciseCard.js';
import './exercises.css';
import { useToasts } from '../shell/toasts.js';

const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  'first-circuits': 'First circuits',
  'seal-in': 'Seal-in',
  jogging: 'Jogging',
  reversing: 'Reversing',
  'star-delta': 'Star-delta',
  other: 'Other',
};

const FORM_NAMES = { iec: 'IEC', us: 'US' } as const;

/** Where a person stands with an exercise. */
type Standing = 'due' | 'under way' | 'passed' | 'not passed' | 'set' | 'not set';

const TO_INSTRUCTORS: readonly Standing[] = ['set', 'not set'];
const STANDINGS: Readonly<Record<Person['role'], readonly Standing[]>> = {
  student: ['due', 'under way', 'passed', 'not passed', 'not set'],
  instructor: TO_INSTRUCTORS,
  administrator: TO_INSTRUCTORS,
};

function standingOf({ assigned, set }: ExerciseSummary, { role }: Person): Standing {
  if (role !== 'student') return set.length > 0 ? 'set' : 'not set';
  const attempts = assigned.flatMap((one) => one.attempts);
  if (assigned.length === 0) return 'not set';
  if (attempts.some(({ result, unconfirmed }) => result?.passed && !unconfirmed)) return 'passed';
  if (attempts.at(-1)?.state === 'open') return 'under way';
  return attempts.some(({ result }) => result !== null) ? 'not passed' : 'due';
}

interface Filters {
  readonly text: string;
  readonly family: Family | undefined;
  readonly form: 'iec' | 'us' | undefined;
  readonly standing: Standing | undefined;
}

const NO_FILTERS: Filters = { text: '', family: undefined, form: undefined, standing: undefined };

function admits(
  exercise: ExerciseSummary,
  { text, family, form, standing }: Filters,
  person: Person,
): boolean {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const said = `${exercise.title} ${exercise.brief} ${FAMILY_NAMES[exercise.family]}`.toLowerCase();
  return (
    words.every((word) => said.includes(word)) &&
    (family === undefined || exercise.family === family) &&
    (form === undefined || usualForm(exercise.bench) === form) &&
    (standing === undefined || standingOf(exercise, person) === standing)
  );
}

/** When the next thing of an exercise is due; what has no date comes after what has. */
const dueOf = ({ assigned, set }: ExerciseSummary): string =>
  [...assigned, ...set].flatMap(({ dueAt }) => dueAt ?? []).toSorted()[0] ?? '9';

/** All exercises, each with its drawing and where this person stands with it; what is due comes first. */
export function ExercisesPage({ person }: { person: Person }) {
  const exercises = useExercises();
  const [query] = useSearchParams();
  const [filters, setFilters] = useState({ ...NO_FILTERS, text: query.get('find') ?? '' });
  const shown = useMemo(
    () => (exercises.data ?? []).filter((exercise) => admits(exercise, filters, person)),
    [exercises.data, filters, person],
  );
  if (exercises.isPending) return <Spin className="waiting" />;
  if (exercises.isError) return <Alert type="error" showIcon title={exercises.error.message} />;
  const isAtWork = (exercise: ExerciseSummary) => person.role === 'student' && exercise.assigned.length > 0;
  const first = shown.filter(isAtWork).toSorted((a, b) => dueOf(a).localeCompare(dueOf(b)));
  const families = FAMILIES.map((family) => ({
    family,
    list: shown.filter((exercise) => exercise.family === family && !isAtWork(exercise)),
  })).filter(({ list }) => list.length > 0);
  return (
    <main className="page exercises-page">
      <header className="exercises-head">
        <h1>Exercises</h1>
        <FilterBar filters={filters} onFilters={setFilters} person={person} />
        {person.role === 'student' && <JoinClass />}
        <p className="quiet" role="status">
          {shown.length === exercises.data.length
            ? `${shown.length}`
            : `${shown.length} of ${exercises.data.length}`}
        </p>
      </header>
      {person.role === 'student' && <Invitations />}
      {first.length > 0 && (
        <section aria-labelledby="at-work">
          <h2 id="at-work">Assigned to your class</h2>
          <div className="exercise-tiles first">
            {first.map((exercise) => (
              <ExerciseCard key={exercise.id} exercise={exercise} person={person} />
            ))}
          </div>
        </section>
      )}
      {families.map(({ family, list }) => (
        <section key={family} aria-labelledby={`family-${family}`}>
          <h2 id={`family-${family}`}>{FAMILY_NAMES[family]}</h2>
          <div className="exercise-tiles">
            {list.map((exercise) => (
              <ExerciseCard key={exercise.id} exercise={exercise} person={person} />
            ))}
          </div>
        </section>
      ))}
      {shown.length === 0 && (
        <p className="quiet">No exercises match. Clear a filter or search for fewer words.</p>
      )}
    </main>
  );
}

/** Classes that a student is asked to join: nobody is put into one without a word of their own. */
function Invitations() {
  const { data = [] } = useInvitations();
  const answer = useAnswerInvitation();
  return data.map(({ classId, className, askedBy }) => (
    <Alert
      key={classId}
      type="info"
      showIcon
      className="invitation"
      title={`${askedBy} asks you to join ${className}.`}
      description={
        answer.error?.message ??
        'Its instructors then see what you do in it, set exercises to you, and mark them.'
      }
      action={
        <span className="hand-row">
          <Button
            type="primary"
            loading={answer.isPending}
            onClick={() => answer.mutate({ classId, yes: true })}
          >
            Join
          </Button>
          <Button disabled={answer.isPending} onClick={() => answer.mutate({ classId, yes: false })}>
            Decline
          </Button>
        </span>
      }
    />
  ));
}

/** A student joins a class by its code. */
function JoinClass() {
  const join = useJoin();
  const message = useToasts();
  const go = (code: string) => {
    if (code.trim() === '') return;
    join.mutate(code.trim(), {
      onSuccess: ({ className }) => void message.success(`You are in ${className} now.`),
      onError: (error) => void message.error(error.message),
    });
  };
  return (
    <Input.Search
      aria-label="Class code"
      placeholder="class code"
      enterButton="Join"
      loading={join.isPending}
      onSearch={go}
      style={{ width: 210 }}
    />
  );
}

function FilterBar({
  filters,
  onFilters,
  person,
}: {
  filters: Filters;
  onFilters: (filters: Filters) => void;
  person: Person;
}) {
  const set = (change: Partial<Filters>) => onFilters({ ...filters, ...change });
  const choose = <T extends string>(
    label: string,
    value: T | undefined,
    names: Readonly<Partial<Record<T, string>>>,
    take: (value: T | undefined) => void,
  ) => (
    <Select<T>
      aria-label={label}
      placeholder={label}
      allowClear
      {...(value === undefined ? {} : { value })}
      options={Object.entries(names).map(([key, name]) => ({ value: key as T, label: name as string }))}
      onChange={(next: T | undefined) => take(next)}
      style={{ minWidth: 124 }}
    />
  );
  const standings = Object.fromEntries(STANDINGS[person.role].map((one) => [one, one])) as Record<
    Standing,
    string
  >;
  return (
    <div className="exercise-filters" role="search">
      <Input.Search
        aria-label="Search the exercises"
        placeholder="Search"
        allowClear
        value={filters.text}
        onChange={({ target }) => set({ text: target.value })}
        style={{ width: 200 }}
      />
      {choose('Family', filters.family, FAMILY_NAMES, (family) => set({ family }))}
      {choose('Form', filters.form, FORM_NAMES, (form) => set({ form }))}
      {choose('State', filters.standing, standings, (standing) => set({ standing }))}
    </div>
  );
}
