import { memo, useCallback, useEffect, useState } from 'react';
import { Alert, Segmented, Select, Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { FloorBench } from '@contactum/contract';
import { useClasses } from '../api/queries.js';
import { WordBox } from '../messages/WordBox.js';
import { Blank } from '../shell/Blank.js';
import { BenchTile, isStuck, stateOf } from './BenchTile.js';
import { FloorWalk, type FloorStore } from './floor-line.js';
import { ShoulderView } from './ShoulderView.js';
import { createSeen } from './seen.js';
import './floor.css';
import { useToasts } from '../shell/toasts.js';

/**
 * Every bench of a class as it is worked at now: who asks, who is stuck, what happens; and the instructor's
 * hand in it.
 */
export function FloorPage() {
  const { classId } = useParams();
  const classes = useClasses();
  const navigate = useNavigate();
  // The class that is at work now, else the first.
  const open = classes.data?.filter(({ archived }) => !archived) ?? [];
  const chosen = classId ?? open.toSorted((a, b) => b.atWork - a.atWork)[0]?.id;
  if (classes.isPending) return <Spin className="waiting" />;
  if (classes.isError) return <Alert className="page" type="error" showIcon title={classes.error.message} />;
  if (!chosen) return <Blank title="You have no class yet." act={{ text: 'New class', to: '/classes' }} />;
  return (
    <main className="floor">
      <Walk
        key={chosen}
        classId={chosen}
        head={
          <Select
            aria-label="Class"
            value={chosen}
            style={{ minWidth: 200 }}
            options={classes.data
              .filter(({ archived }) => !archived)
              .map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(id) => void navigate(`/floor/${id}`)}
          />
        }
      />
    </main>
  );
}

/** The line to the floor, and what is seen of the bench that is looked at; both end with the page. */
function useWalk(classId: string) {
  const [walk, setWalk] = useState<{ line: FloorWalk; seen: ReturnType<typeof createSeen> } | null>(null);
  useEffect(() => {
    const seen = createSeen();
    const line = new FloorWalk(classId, seen.show);
    setWalk({ line, seen });
    return () => line.close();
  }, [classId]);
  return walk;
}

type Filter = 'all' | 'asks' | 'words' | 'stuck' | 'incidents' | 'here';

const ADMITS: Readonly<Record<Filter, (bench: FloorBench) => boolean>> = {
  all: () => true,
  here: ({ here }) => here,
  asks: ({ asksAt }) => asksAt !== null,
  words: ({ word }) => word !== null,
  stuck: isStuck,
  incidents: ({ status }) => (status?.incidents ?? 0) > 0,
};

function Walk({ classId, head }: { classId: string; head: React.ReactNode }) {
  const walk = useWalk(classId);
  if (!walk) return <Spin className="waiting" />;
  return <OpenFloor line={walk.line} seen={walk.seen} head={head} />;
}

function OpenFloor({
  line,
  seen,
  head,
}: {
  line: FloorWalk;
  seen: ReturnType<typeof createSeen>;
  head: React.ReactNode;
}) {
  const { store } = line;
  const [filter, setFilter] = useState<Filter>('all');
  const [watched, setWatched] = useState<string | null>(null);
  useRefusals(line);
  const watch = useCallback(
    (attemptId: string | null) => {
      seen.clear();
      setWatched(attemptId);
      line.say({ kind: 'watch', attemptId });
    },
    [seen, line],
  );
  const bench = useStore(store, (state) => (watched === null ? undefined : state.benches[watched]));
  return (
    <>
      <FloorHead line={line} head={head} filter={filter} onFilter={setFilter} />
      <div className="floor-room" data-watching={bench ? 'yes' : undefined}>
        <Tiles line={line} filter={filter} watched={watched} onWatch={watch} />
        {bench && (
          <ShoulderView
            key={bench.attemptId}
            bench={bench}
            line={line}
            seen={seen}
            onClose={() => watch(null)}
          />
        )}
      </div>
    </>
  );
}

/**
 * The benches that a filter admits. A tile hears of its own bench by itself; only who is shown is looked at
 * here.
 */
const Tiles = memo(function Tiles({
  line,
  filter,
  watched,
  onWatch,
}: {
  line: FloorWalk;
  filter: Filter;
  watched: string | null;
  onWatch: (attemptId: string | null) => void;
}) {
  const { store } = line;
  const none = useStore(store, ({ order }) => order.length === 0);
  const shown = useStore(
    store,
    useShallow(({ order, benches }) =>
      byUrgency(
        order.filter((id) => benches[id] && ADMITS[filter](benches[id])),
        benches,
      ),
    ),
  );
  const permit = useCallback((attemptId: string) => line.say({ kind: 'permit', attemptId }), [line]);
  return (
    <div className="floor-tiles">
      {shown.map((id) => (
        <BenchTile
          key={id}
          id={id}
          store={store}
          chosen={id === watched}
          onLook={onWatch}
          onPermit={permit}
        />
      ))}
      {shown.length === 0 && (
        <p className="quiet floor-empty">
          {none
            ? 'No board is open. Students appear here when they open an exercise that is assigned to this class.'
            : 'No benches match this filter.'}
        </p>
      )}
    </div>
  );
});

/** Who needs a look stands first: incidents, questions, who is stuck; each in the order of names. */
const URGENCY = ['incident', 'asks', 'word', 'stuck', 'here', 'away'] as const;

function byUrgency(ids: readonly string[], benches: Readonly<Record<string, FloorBench>>): string[] {
  const rank = (id: string) => {
    const bench = benches[id];
    return bench ? URGENCY.indexOf(stateOf(bench)) : URGENCY.length;
  };
  return ids.toSorted((a, b) => rank(a) - rank(b));
}

const FILTERS: readonly (readonly [Filter, string])[] = [
  ['all', 'All'],
  ['here', 'At work'],
  ['asks', 'Ask to energise'],
  ['words', 'Messages'],
  ['stuck', 'Stuck'],
  ['incidents', 'Incidents'],
];

/** The filters, each with how many benches it admits. */
function Filters({
  store,
  filter,
  onFilter,
}: {
  store: FloorStore;
  filter: Filter;
  onFilter: (filter: Filter) => void;
}) {
  const counts = useStore(
    store,
    useShallow(({ benches }) => {
      const all = Object.values(benches);
      return FILTERS.map(([value]) => all.filter(ADMITS[value]).length);
    }),
  );
  return (
    <Segmented<Filter>
      aria-label="Which benches"
      value={filter}
      onChange={onFilter}
      options={FILTERS.map(([value, label], k) => ({ value, label: `${label} ${counts[k] ?? 0}` }))}
    />
  );
}

function FloorHead({
  line,
  head,
  filter,
  onFilter,
}: {
  line: FloorWalk;
  head: React.ReactNode;
  filter: Filter;
  onFilter: (filter: Filter) => void;
}) {
  const link = useStore(line.store, (state) => state.link);
  return (
    <header className="floor-head">
      <h1>Floor</h1>
      {head}
      <Filters store={line.store} filter={filter} onFilter={onFilter} />
      <div className="floor-word">
        <WordBox
          to="the class"
          label="Message the class"
          onSay={(text) => line.say({ kind: 'word', attemptId: null, text })}
        />
      </div>
      {link !== 'open' && (
        <span className="floor-link">○ {link === 'lost' ? 'connection lost, trying again' : 'opening'}</span>
      )}
    </header>
  );
}

/** What could not be done is said once. */
function useRefusals({ store }: FloorWalk): void {
  const message = useToasts();
  useEffect(
    () =>
      store.subscribe(({ refused }, before) => {
        if (refused === null || refused === before.refused) return;
        message.warning(refused);
        store.setState({ refused: null });
      }),
    [store, message],
  );
}
