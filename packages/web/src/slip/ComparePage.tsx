import { useEffect, useMemo, useState } from 'react';
import { CaretRightOutlined, StepForwardOutlined } from '@ant-design/icons';
import { Alert, Button, Select, Spin, Tabs } from 'antd';
import { Link, useParams } from 'react-router';
import { useStore } from 'zustand';
import { describeStimulus, type Bench, type RepairEdit, type Report, type Stimulus } from '@contactum/core';
import type { Slip } from '@contactum/contract';
import { useSlip } from '../api/queries.js';
import { Board } from '../board/Board.js';
import { isShort, sentence } from '../bench/IncidentBanner.js';
import { startLiveBench, type LiveBench } from '../bench/live.js';
import { StripChart } from '../bench/StripChart.js';
import { useAct } from '../bench/use-act.js';
import { RepairSection } from './RepairSection.js';
import { repaired, withRepair } from './repair-view.js';

/** Pause between two steps, so that the eye can follow both boards. */
const PACE_MS = 1100;

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
  if (!report || !reference) return <Alert className="page" type="info" showIcon title="This attempt is not marked yet." />;
  return <Benches slip={query.data} report={report} reference={reference} />;
}

function Benches({ slip, report, reference }: { slip: Slip; report: Report; reference: Bench }) {
  const [pair, setPair] = useState<readonly [LiveBench, LiveBench] | null>(null);
  useEffect(() => {
    const benches = [startLiveBench(), startLiveBench()] as const;
    setPair(benches);
    return () => benches.forEach((bench) => bench.close());
  }, []);
  return pair ? <Comparison slip={slip} report={report} reference={reference} pair={pair} /> : <Spin className="waiting" />;
}

const inWords = (values: Readonly<Record<string, string | number>>): string =>
  Object.entries(values)
    .map(([what, value]) => `${what} ${value}`)
    .join(', ');

/** What can be played: where it differs from the reference, and the proof of every lost point that is a sequence. */
function sequencesOf(report: Report): Sequence[] {
  const { counterexample } = report.equivalence;
  const lost = report.criteria.flatMap(({ part, id, title, evidence }): Sequence[] => {
    const steps = evidence?.steps?.flatMap((step) => ('expect' in step ? [] : [step]));
    return evidence && steps ? [{ key: `${part} ${id}`, title, steps, found: evidence.found }] : [];
  });
  if (!counterexample) return lost;
  const { steps, expected, actual } = counterexample;
  return [{ key: 'difference', title: 'Where it differs from the reference', steps, found: `Reference: ${inWords(expected)}. As wired: ${inWords(actual)}.` }, ...lost];
}

function Comparison({ slip, report, reference, pair }: { slip: Slip; report: Report; reference: Bench; pair: readonly [LiveBench, LiveBench] }) {
  const sequences = useMemo(() => sequencesOf(report), [report]);
  const [key, setKey] = useState(sequences[0]?.key ?? '');
  const sequence = sequences.find((one) => one.key === key);
  const steps = useMemo(() => sequence?.steps ?? [], [sequence]);
  const [done, setDone] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [repair, setRepair] = useState<readonly RepairEdit[] | null>(null);
  const [runsRepaired, setRunsRepaired] = useState(false);
  const drawn = useMemo(() => withRepair(slip.bench, repair), [slip.bench, repair]);
  const wired = useMemo(() => (repair && runsRepaired ? repaired(slip.bench, repair) : slip.bench), [slip.bench, repair, runsRepaired]);
  const supplyOn = useStore(pair[1].store, (state) => state.supplyOn);

  const fresh = (on: boolean): void => {
    pair[0].load(wired, { supplyOn: on, fresh: true });
    pair[1].load(reference, { supplyOn: on, fresh: true });
    setDone(0);
  };
  useEffect(() => {
    pair[0].load(wired, { fresh: true });
    pair[1].load(reference, { fresh: true });
  }, [pair, wired, reference]);

  const runs = playing && done < steps.length;
  useEffect(() => {
    if (!runs) return undefined;
    const timer = setTimeout(() => {
      const step = steps[done];
      if (step) pair.forEach((live) => live.act(step));
      setDone(done + 1);
    }, PACE_MS);
    return () => clearTimeout(timer);
  }, [runs, done, steps, pair]);

  const play = (): void => {
    fresh(true);
    setPlaying(true);
  };
  const stepOn = (): void => {
    if (done === 0) fresh(true);
    const step = steps[done];
    if (step) pair.forEach((live) => live.act(step));
    setDone(done + 1);
  };
  const choose = (next: string): void => {
    setKey(next);
    setPlaying(false);
    fresh(false);
  };
  const showRepair = (next: readonly RepairEdit[] | null): void => {
    setRepair(next);
    setRunsRepaired(false);
    setPlaying(false);
    setDone(0);
  };

  const asWired = runsRepaired ? 'repaired' : 'as wired';
  return (
    <main className="compare">
      <header className="compare-head">
        <div>
          <p className="crumb">
            <Link to={`/marks/${slip.classId}`}>{slip.className}</Link> · <Link to={`/slip/${slip.attempt.id}`}>Marking slip</Link>
          </p>
          <h1>{slip.exercise.title}</h1>
          <p className="quiet">
            {slip.student.name}, attempt {slip.attempt.number}: {report.score} of {report.max}, {report.passed ? 'passed' : 'not passed'}
          </p>
        </div>
        <Tabs
          size="small"
          className="compare-tabs"
          items={[
            {
              key: 'sequence',
              label: 'Sequence',
              children:
                sequences.length === 0 ? (
                  <p>
                    It does the same as the reference in all {report.equivalence.pairs.toLocaleString('en-GB')} pairs of situations, and lost no point by a sequence. Work either
                    board: both do what you do.
                  </p>
                ) : (
                  <div className="compare-sequence">
                    <div className="compare-choice">
                      <Select
                        aria-label="Sequence to play"
                        value={key}
                        options={sequences.map((one) => ({ value: one.key, label: one.title }))}
                        onChange={choose}
                        popupMatchSelectWidth={false}
                      />
                      <Button type="primary" icon={<CaretRightOutlined />} onClick={play}>
                        Play on both
                      </Button>
                      <Button icon={<StepForwardOutlined />} aria-label="Next step" title="Next step" disabled={runs || done >= steps.length} onClick={stepOn} />
                    </div>
                    <ol className="replay-steps" aria-label="Steps">
                      {steps.length === 0 && <li data-now="yes">as soon as the supply is on</li>}
                      {steps.map((step, k) => (
                        <li key={k} data-done={k < done ? 'yes' : undefined} data-now={k === done - 1 ? 'yes' : undefined}>
                          {describeStimulus(step)}
                        </li>
                      ))}
                    </ol>
                    <p>{sequence?.found}</p>
                  </div>
                ),
            },
            {
              key: 'repair',
              label: 'Repair',
              children: (
                <div className="compare-repair">
                  <RepairSection slip={slip} onShow={showRepair} />
                  {repair && (
                    <Button size="small" aria-pressed={runsRepaired} onClick={() => setRunsRepaired((now) => !now)}>
                      {runsRepaired ? 'Run it as it was wired' : 'Run it repaired'}
                    </Button>
                  )}
                </div>
              ),
            },
          ]}
        />
        <Button onClick={() => fresh(!supplyOn)}>{supplyOn ? 'Both supplies off' : 'Both supplies on'}</Button>
      </header>
      <div className="compare-boards">
        <Side title={`${slip.student.name}, ${asWired}: ${wired.wires.length} leads`} drawn={drawn.bench} edits={drawn.edits} bench={wired} live={pair[0]} pair={pair} />
        <Side title={`Reference: ${reference.wires.length} leads`} drawn={reference} bench={reference} live={pair[1]} pair={pair} />
      </div>
    </main>
  );
}

function Side({
  title,
  drawn,
  edits,
  bench,
  live,
  pair,
}: {
  title: string;
  drawn: Bench;
  edits?: ReadonlyMap<number, 'gone' | 'new'>;
  bench: Bench;
  live: LiveBench;
  pair: readonly LiveBench[];
}) {
  const incidents = useStore(live.store, (state) => state.incidents);
  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  // One hand works both boards.
  const both = useMemo((): LiveBench => ({ ...live, act: (stimulus) => pair.forEach((one) => one.act(stimulus)) }), [live, pair]);
  const act = useAct(both);
  return (
    <section className="compare-side" aria-label={title}>
      <h2>{title}</h2>
      <div className="compare-board">
        <Board bench={drawn} {...(edits ? { edits } : {})} live={live} act={act} marked={shorted?.where ?? []} label={title} />
      </div>
      <p className="replay-incident" role="status">
        {incidents.slice(-2).map(sentence).join(' ')}
      </p>
      <StripChart bench={bench} live={live} />
    </section>
  );
}
