import { plural, isShort } from '@contactum/core';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { CaretRightOutlined, StepForwardOutlined } from '@ant-design/icons';
import { Alert, Button, Select, Spin, Switch, Tabs } from 'antd';
import { Link, useParams } from 'react-router';
import { useStore } from 'zustand';
import type { Bench, RepairEdit, Report, Stimulus } from '@contactum/core';
import type { Slip } from '@contactum/contract';
import { useSlip } from '../api/queries.js';
import { Board } from '../board/Board.js';
import type { LeadEdit } from '../board/Leads.js';
import { startLiveBench, type LiveBench } from '../bench/live.js';
import { StripChart } from '../bench/StripChart.js';
import { useAct } from '../bench/use-act.js';
import { leadDifferences, type LeadDifferences } from './lead-differences.js';
import { RepairSection } from './RepairSection.js';
import { Incidents } from './Replay.js';
import { repaired, withRepair } from './repair-view.js';
import { StepList, stimuliOf, usePlayback, valuesInWords } from './steps.js';
import './slip.css';
import './compare.css';

interface Sequence {
  readonly key: string;
  readonly title: string;
  readonly steps: readonly Stimulus[];
  readonly found: string;
}

/** For instructors: the wiring as handed in beside the reference, both worked by the same hand. */
export function ComparePage() {
  const { id = '' } = useParams();
  const query = useSlip(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { report, reference } = query.data;
  if (!report || !reference)
    return <Alert className="page" type="info" showIcon title="This attempt is not marked yet." />;
  return <Benches slip={query.data} report={report} reference={reference} />;
}

function Benches({ slip, report, reference }: { slip: Slip; report: Report; reference: Bench }) {
  const [pair, setPair] = useState<readonly [LiveBench, LiveBench] | null>(null);
  useEffect(() => {
    const benches = [startLiveBench(), startLiveBench()] as const;
    setPair(benches);
    return () => benches.forEach((bench) => bench.close());
  }, []);
  return pair ? (
    <Comparison slip={slip} report={report} reference={reference} pair={pair} />
  ) : (
    <Spin className="waiting" />
  );
}

/**
 * What can be played: where it differs from the reference, and the proof of every lost point that is a
 * sequence.
 */
function sequencesOf(report: Report): Sequence[] {
  const { counterexample } = report.equivalence;
  const lost = report.criteria.flatMap(({ part, id, title, evidence }): Sequence[] => {
    return evidence?.steps
      ? [{ key: `${part} ${id}`, title, steps: stimuliOf(evidence.steps), found: evidence.found }]
      : [];
  });
  if (!counterexample) return lost;
  const { steps, expected, actual } = counterexample;
  return [
    {
      key: 'difference',
      title: 'Where it differs from the reference',
      steps,
      found: `Reference: ${valuesInWords(expected)}. As wired: ${valuesInWords(actual)}.`,
    },
    ...lost,
  ];
}

/** Both benches under one hand, and the repair that is drawn on the wiring or runs instead of it. */
function useComparison(
  slip: Slip,
  reference: Bench,
  pair: readonly [LiveBench, LiveBench],
  steps: readonly Stimulus[],
) {
  const [repair, setRepair] = useState<readonly RepairEdit[] | null>(null);
  const [runsRepaired, setRunsRepaired] = useState(false);
  const actOnBoth = useCallback((step: Stimulus) => pair.forEach((live) => live.act(step)), [pair]);
  const { play, stepOn, rewind, ...playback } = usePlayback(steps, actOnBoth);
  const drawn = useMemo(() => withRepair(slip.bench, repair), [slip.bench, repair]);
  const wired = useMemo(
    () => (repair && runsRepaired ? repaired(slip.bench, repair) : slip.bench),
    [slip.bench, repair, runsRepaired],
  );
  const supplyOn = useStore(pair[1].store, (state) => state.supplyOn);
  const load = useCallback(
    (on: boolean): void => {
      pair[0].load(wired, { supplyOn: on, fresh: true });
      pair[1].load(reference, { supplyOn: on, fresh: true });
    },
    [pair, wired, reference],
  );
  useEffect(() => load(false), [load]);
  return {
    ...playback,
    actOnBoth,
    drawn,
    wired,
    repair,
    runsRepaired,
    supplyOn,
    toggleRepaired: () => setRunsRepaired((now) => !now),
    switchBoth: (on: boolean): void => {
      load(on);
      rewind();
    },
    playBoth: (): void => {
      load(true);
      play();
    },
    stepBoth: (): void => {
      if (playback.done === 0) load(true);
      stepOn();
    },
    showRepair: (next: readonly RepairEdit[] | null): void => {
      setRepair(next);
      setRunsRepaired(false);
      rewind();
    },
  };
}

type BothBenches = ReturnType<typeof useComparison>;

function Comparison({
  slip,
  report,
  reference,
  pair,
}: {
  slip: Slip;
  report: Report;
  reference: Bench;
  pair: readonly [LiveBench, LiveBench];
}) {
  const sequences = useMemo(() => sequencesOf(report), [report]);
  const [key, setKey] = useState(sequences[0]?.key ?? '');
  const chosen = sequences.find((one) => one.key === key);
  const steps = useMemo(() => chosen?.steps ?? [], [chosen]);
  const both = useComparison(slip, reference, pair, steps);
  const [lights, setLights] = useState(true);
  const differences = useMemo(() => leadDifferences(slip.bench, reference), [slip.bench, reference]);
  // A repair that is drawn on the wiring stands before what differs.
  const isLit = lights && both.repair === null;
  const { actOnBoth, drawn, wired, runsRepaired, supplyOn, switchBoth } = both;
  const choose = (next: string): void => {
    setKey(next);
    switchBoth(false);
  };
  const sequence = { sequences, chosen, pairs: report.equivalence.pairs, onChoose: choose };
  const asWired = runsRepaired ? 'repaired' : 'as wired';
  const name = slip.student.name;
  return (
    <main className="compare">
      <header className="compare-head">
        <Head slip={slip} report={report} />
        <CompareTabs {...{ slip, sequence, both, differences, lights }} onLights={setLights} />
        <Button onClick={() => switchBoth(!supplyOn)}>
          {supplyOn ? 'Both supplies off' : 'Both supplies on'}
        </Button>
      </header>
      <div className="compare-boards">
        <Side
          title={`${name}, ${asWired}: ${plural(wired.wires.length, 'lead')}`}
          drawn={drawn.bench}
          edits={isLit ? differences.wired : drawn.edits}
          live={pair[0]}
          onAct={actOnBoth}
        />
        <Side
          title={`Reference: ${plural(reference.wires.length, 'lead')}`}
          drawn={reference}
          {...(isLit ? { edits: differences.reference } : {})}
          live={pair[1]}
          onAct={actOnBoth}
        />
      </div>
    </main>
  );
}

/** What is played, what differs, and what would repair it. */
function CompareTabs({
  slip,
  sequence,
  both,
  differences,
  lights,
  onLights,
}: {
  slip: Slip;
  sequence: Omit<Parameters<typeof SequenceTab>[0], 'both'>;
  both: BothBenches;
  differences: LeadDifferences;
  lights: boolean;
  onLights: (on: boolean) => void;
}) {
  return (
    <Tabs
      size="small"
      className="compare-tabs"
      items={[
        { key: 'sequence', label: 'Sequence', children: <SequenceTab {...sequence} both={both} /> },
        {
          key: 'leads',
          label: `Leads that differ (${differences.list.length})`,
          children: <DifferencesTab {...{ differences, lights }} onLights={onLights} />,
        },
        { key: 'repair', label: 'Repair', children: <RepairTab slip={slip} both={both} /> },
      ]}
    />
  );
}

function Head({ slip, report }: { slip: Slip; report: Report }) {
  return (
    <div>
      <p className="crumb">
        <Link to={`/marks/${slip.classId}`}>{slip.className}</Link> ·{' '}
        <Link to={`/slip/${slip.attempt.id}`}>Marking slip</Link>
      </p>
      <h1>{slip.exercise.title}</h1>
      <p className="quiet">
        {slip.student.name}, attempt {slip.attempt.number}: {slip.result?.recorded ?? report.recorded} of{' '}
        {report.max}, {report.passed ? 'passed' : 'not passed'}
      </p>
    </div>
  );
}

/** The sequence that is played on both boards. */
function SequenceTab({
  sequences,
  chosen,
  pairs,
  both,
  onChoose,
}: {
  sequences: readonly Sequence[];
  chosen: Sequence | undefined;
  pairs: number;
  both: BothBenches;
  onChoose: (key: string) => void;
}) {
  if (!chosen)
    return (
      <p>
        It does the same as the reference in all {pairs.toLocaleString('en-GB')} pairs of situations, and lost
        no point by a sequence. Work either board: both do what you do.
      </p>
    );
  return (
    <div className="compare-sequence">
      <div className="compare-choice">
        <Select
          aria-label="Sequence to play"
          value={chosen.key}
          options={sequences.map(({ key, title }) => ({ value: key, label: title }))}
          onChange={onChoose}
          popupMatchSelectWidth={false}
        />
        <Button type="primary" icon={<CaretRightOutlined />} onClick={both.playBoth}>
          Play on both
        </Button>
        <Button
          icon={<StepForwardOutlined />}
          aria-label="Next step"
          title="Next step"
          disabled={both.playing || both.ended}
          onClick={both.stepBoth}
        />
      </div>
      <StepList steps={chosen.steps} done={both.done} />
      <p>{chosen.found}</p>
    </div>
  );
}

/** Leads that only one of the boards has, in words; those that both have recede on the boards. */
function DifferencesTab({
  differences: { list },
  lights,
  onLights,
}: {
  differences: LeadDifferences;
  lights: boolean;
  onLights: (on: boolean) => void;
}) {
  return (
    <div className="compare-leads">
      <label>
        <Switch size="small" checked={lights} onChange={onLights} /> Light them on the boards
      </label>
      {list.length === 0 && <p>Both boards have the same leads.</p>}
      <ul>
        {list.map(({ words, isJoined, of }, k) => (
          <li key={k} className={isJoined ? 'quiet' : undefined} data-of={of}>
            {words}
          </li>
        ))}
      </ul>
    </div>
  );
}

function RepairTab({ slip, both }: { slip: Slip; both: BothBenches }) {
  return (
    <div className="compare-repair">
      <RepairSection slip={slip} onShow={both.showRepair} />
      {both.repair && (
        <Button size="small" aria-pressed={both.runsRepaired} onClick={both.toggleRepaired}>
          {both.runsRepaired ? 'Run it as it was wired' : 'Run it repaired'}
        </Button>
      )}
    </div>
  );
}

function Side({
  title,
  drawn,
  edits,
  live,
  onAct,
}: {
  title: string;
  drawn: Bench;
  edits?: ReadonlyMap<number, LeadEdit>;
  live: LiveBench;
  onAct: (stimulus: Stimulus) => void;
}) {
  const incidents = useStore(live.store, (state) => state.incidents);
  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  // One hand works both boards.
  const both = useMemo((): LiveBench => ({ ...live, act: onAct }), [live, onAct]);
  const act = useAct(both);
  return (
    <section className="compare-side" aria-label={title}>
      <h2>{title}</h2>
      <div className="compare-board">
        <Board
          bench={drawn}
          {...(edits ? { edits } : {})}
          live={live}
          act={act}
          marked={shorted?.where ?? []}
          label={title}
        />
      </div>
      <Incidents incidents={incidents} />
      <StripChart devices={drawn.devices} live={live} of={title} />
    </section>
  );
}
