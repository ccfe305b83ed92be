import { useEffect, useMemo, useState } from 'react';
import { Alert, Button, Checkbox, InputNumber, Select, Spin } from 'antd';
import {
  plural,
  DEGREES,
  DEGREE_WORDS,
  writeFault,
  type Degree,
  type Exercise,
  type FaultEffect,
} from '@contactum/core';
import type { LiveSearch, Person } from '@contactum/contract';
import { useClassSearches, useClasses, useFaultHands, useWatchedSearch } from '../api/queries.js';
import { Board } from '../board/Board.js';
import { watchedBench } from './watched.js';
import { clock } from './Notebook.js';

/** The searches of a class that are under way on a board; of the first class where none is chosen. */
function useRows(exercise: Exercise, person: Person) {
  const classes = useClasses(person.role !== 'student');
  const [classId, setClassId] = useState<string | undefined>();
  const own = classId ?? classes.data?.[0]?.id;
  const searches = useClassSearches(own);
  const rows = useMemo(
    () =>
      (searches.data ?? []).filter(({ exerciseId, state }) => exerciseId === exercise.id && state === 'open'),
    [searches.data, exercise.id],
  );
  return { classes: classes.data ?? [], own, setClassId, rows };
}

/** The benches of a class on this board: put faults in, see what is done, take them out again. */
export function ClassBenches({
  exercise,
  chosen,
  person,
}: {
  exercise: Exercise;
  chosen: FaultEffect | null;
  person: Person;
}) {
  const { classes, own, setClassId, rows } = useRows(exercise, person);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [watched, setWatched] = useState<string | null>(null);
  const ids = rows.map(({ id }) => id).filter((id) => marked.has(id));
  return (
    <div className="class-benches">
      <section>
        <div className="fault-filters">
          <Select
            aria-label="Class"
            placeholder="Class"
            value={own ?? null}
            options={classes.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(next: string) => setClassId(next)}
            style={{ width: 220 }}
          />
          <Button
            size="small"
            disabled={rows.length === 0}
            onClick={() => setMarked(new Set(rows.map(({ id }) => id)))}
          >
            All benches
          </Button>
        </div>
        <Injector ids={ids} chosen={chosen} />
        <BenchRows rows={rows} marked={marked} onMarked={setMarked} watched={watched} onWatch={setWatched} />
      </section>
      <Watch id={watched} />
    </div>
  );
}

function BenchRows({
  rows,
  marked,
  onMarked,
  watched,
  onWatch,
}: {
  rows: readonly LiveSearch[];
  marked: ReadonlySet<string>;
  onMarked: (marked: ReadonlySet<string>) => void;
  watched: string | null;
  onWatch: (id: string | null) => void;
}) {
  if (rows.length === 0)
    return (
      <p className="quiet">
        No student of this class is working on this board now. Assign the exercise to the class; students
        appear here when they open it.
      </p>
    );
  const mark = (id: string, on: boolean) =>
    onMarked(new Set(on ? [...marked, id] : [...marked].filter((one) => one !== id)));
  return (
    <ul className="bench-rows">
      {rows.map((row) => (
        <BenchRow
          key={row.id}
          row={row}
          on={marked.has(row.id)}
          watched={watched === row.id}
          onMark={(on) => mark(row.id, on)}
          onWatch={() => onWatch(watched === row.id ? null : row.id)}
        />
      ))}
    </ul>
  );
}

function BenchRow({
  row,
  on,
  watched,
  onMark,
  onWatch,
}: {
  row: LiveSearch;
  on: boolean;
  watched: boolean;
  onMark: (on: boolean) => void;
  onWatch: () => void;
}) {
  return (
    <li data-watched={watched ? 'yes' : undefined}>
      <Checkbox checked={on} onChange={({ target }) => onMark(target.checked)}>
        {row.student}
      </Checkbox>
      <span className={row.live ? 'at-work' : 'quiet'}>{row.live ? '● at work' : '○ away'}</span>
      <span className="quiet">
        {row.order}, {clock(row.seconds)}, {plural(row.entries, 'entry', 'entries')}
        {row.waiting > 0 ? `, ${row.waiting} of your orders wait until it is opened` : ''}
      </span>
      <Button size="small" aria-pressed={watched} onClick={onWatch}>
        {watched ? 'Close' : 'Watch'}
      </Button>
      <p className="bench-faults">{row.faults.length === 0 ? 'no faults' : row.faults.join('; ')}</p>
    </li>
  );
}

/** The same fault for all, or one of a degree by a seed; different ones for neighbours if wished. */
function Injector({ ids, chosen }: { ids: readonly string[]; chosen: FaultEffect | null }) {
  const { inject, clear } = useFaultHands();
  const [degree, setDegree] = useState<Degree>(1);
  const [seed, setSeed] = useState(() => Math.floor(Math.random() * 10_000));
  const [different, setDifferent] = useState(true);
  const searches = [...ids];
  const error = inject.error ?? clear.error;
  return (
    <div className="injector">
      <div className="hand-row">
        <Button
          disabled={ids.length === 0 || !chosen}
          loading={inject.isPending}
          onClick={() => chosen && inject.mutate({ searches, what: { fault: writeFault(chosen.fault) } })}
        >
          {chosen ? `Inject: ${chosen.title}` : 'Choose a fault first'}
        </Button>
        <Button disabled={ids.length === 0} loading={clear.isPending} onClick={() => clear.mutate(searches)}>
          Clear all faults
        </Button>
      </div>
      <div className="hand-row">
        <Select
          aria-label="Difficulty"
          value={degree}
          options={DEGREES.map((value) => ({ value, label: `${value}: ${DEGREE_WORDS[value]}` }))}
          onChange={setDegree}
          style={{ width: 260 }}
        />
        <InputNumber
          aria-label="Seed"
          min={0}
          max={4_294_967_295}
          value={seed}
          prefix="seed"
          onChange={(next) => setSeed(next ?? 0)}
        />
        <Checkbox checked={different} onChange={({ target }) => setDifferent(target.checked)}>
          different for neighbours
        </Checkbox>
        <Button
          disabled={ids.length === 0}
          loading={inject.isPending}
          onClick={() => inject.mutate({ searches, what: { degree, seed, different } })}
        >
          Inject by difficulty
        </Button>
      </div>
      {error && <Alert type="error" showIcon title={error.message} />}
    </div>
  );
}

/** A bench over its student's shoulder: the board, and everything that was done. */
function Watch({ id }: { id: string | null }) {
  const search = useWatchedSearch(id);
  const [live] = useState(watchedBench);
  useEffect(() => {
    if (search.data) live.show(search.data);
  }, [search.data, live]);
  if (id === null)
    return <p className="quiet watch-hint">Press Watch at a bench to see what is done at it.</p>;
  if (!search.data) return <Spin />;
  const { student, board, notes, faults, places } = search.data;
  return (
    <section className="watch" aria-label={`Bench of ${student}`}>
      <h2>{student}</h2>
      <p>{faults.length === 0 ? 'No fault in the board.' : faults.join('; ')}</p>
      <Board bench={board} live={live} marked={places} label={`Board of ${student}`} />
      <ol className="notes" reversed>
        {notes
          .toReversed()
          .slice(0, 40)
          .map((line, k) => (
            <li key={notes.length - k}>
              <span className="mono quiet">{clock(line.t)}</span> {line.text}
            </li>
          ))}
      </ol>
    </section>
  );
}
