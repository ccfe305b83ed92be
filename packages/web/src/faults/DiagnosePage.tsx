import { useMemo, useState } from 'react';
import { Alert, Button, Checkbox, Input, Segmented, Select, Spin } from 'antd';
import { useParams } from 'react-router';
import {
  anatomy,
  describeObservation,
  isArmature,
  isMotor,
  isTripBar,
  isWinding,
  observedWords,
  spellRef,
  terminalsOf,
  type Bench,
  type BoardObservation,
} from '@contactum/core';
import type { DiagnoseAnswer } from '@contactum/contract';
import { useDiagnose, useExercises } from '../api/queries.js';
import { doablesOf, type Doable } from '../board/doables.js';
import './faults.css';

/**
 * Diagnosis of a board that stands on a bench: what was seen and read there goes in, what agrees with it
 * comes out.
 */
export function DiagnosePage() {
  const { id = '' } = useParams();
  const exercises = useExercises();
  const exercise = exercises.data?.find((one) => one.id === id);
  if (exercises.isPending) return <Spin className="waiting" />;
  if (!exercise) return <Alert className="page" type="error" showIcon title="There is no such exercise." />;
  return <Diagnose key={id} id={id} title={exercise.title} bench={exercise.bench} />;
}

function Diagnose({ id, title, bench }: { id: string; title: string; bench: Bench }) {
  const [findings, setFindings] = useState<readonly BoardObservation[]>([]);
  const [pairs, setPairs] = useState(false);
  const diagnose = useDiagnose(id);
  const put = (next: readonly BoardObservation[], withPairs = pairs) => {
    setFindings(next);
    if (next.length > 0) diagnose.mutate({ observations: [...next], pairs: withPairs });
  };
  return (
    <main className="page diagnose">
      <h1>Diagnose a board</h1>
      <p className="quiet">{title}</p>
      <p className="caution">
        Isolate, lock off and prove dead before you touch it; live readings only under supervision.
      </p>
      <FindingForm bench={bench} onFinding={(finding) => put([...findings, finding])} />
      {findings.length > 0 && (
        <section aria-label="What was found so far">
          <h2>Found so far</h2>
          <ol className="findings">
            {findings.map((finding, k) => (
              <li key={k}>
                {describeObservation(finding)}{' '}
                <Button size="small" type="text" onClick={() => put(findings.filter((_, n) => n !== k))}>
                  Remove
                </Button>
              </li>
            ))}
          </ol>
          <Checkbox
            checked={pairs}
            onChange={({ target }) => {
              setPairs(target.checked);
              put(findings, target.checked);
            }}
          >
            Two faults at once as well
          </Checkbox>
        </section>
      )}
      {diagnose.isPending && <Spin aria-label="Working out the causes" />}
      {diagnose.isError && <Alert type="error" showIcon title={diagnose.error.message} />}
      {findings.length > 0 && diagnose.isSuccess && <Answer answer={diagnose.data} />}
    </main>
  );
}

function Answer({ answer: { sound, candidates, of, next } }: { answer: DiagnoseAnswer }) {
  return (
    <section aria-label="Causes" className="answer">
      <h2>
        {candidates.length} of {of} causes agree
      </h2>
      {next && (
        <p className="next-reading">
          <strong>Next:</strong> {next.title}{' '}
          <span className="quiet">(splits {next.splits.join(' : ')})</span>
        </p>
      )}
      {sound && <p>A board without any fault shows the same.</p>}
      <ul className="cause-list">
        {candidates.slice(0, 40).map(({ title, alike }) => (
          <li key={title}>
            {title}
            {alike.length > 0 && <span className="quiet"> (not to be told from: {alike.join('; ')})</span>}
          </li>
        ))}
      </ul>
      {candidates.length === 0 && !sound && (
        <p>No single fault explains all of it. Look again at what was entered, or ask for two at once.</p>
      )}
    </section>
  );
}

type Kind = 'see' | 'volts' | 'ohms';

/** What is seen of a device, as words. */
function sights({ devices }: Bench): { readonly what: string; readonly words: readonly string[] }[] {
  return devices.flatMap((device) => {
    const { tag } = device;
    const [first] = anatomy(device).actuators;
    if (isMotor(device))
      return [{ what: `${tag}.driven`, words: ['none', 'forward', 'reverse', 'single-phase'] }];
    if (!first || !(isWinding(first) || isArmature(first) || isTripBar(first))) return [];
    return [{ what: tag, words: observedWords(device).filter((word) => word !== 'burnt') }];
  });
}

const WORDS: Readonly<Record<string, string>> = {
  none: 'does not run',
  forward: 'forward',
  reverse: 'reverse',
  'single-phase': 'hums',
};

/** What is being entered; undefined where nothing is chosen yet. */
interface Entered {
  readonly kind: Kind;
  readonly steps: readonly string[];
  readonly what: string | null;
  readonly word: string | null;
  readonly between: readonly [string | null, string | null];
  readonly value: string;
}

const NOTHING: Entered = { kind: 'see', steps: [], what: null, word: null, between: [null, null], value: '' };

interface Part {
  readonly bench: Bench;
  readonly entered: Entered;
  readonly onEnter: (change: Partial<Entered>) => void;
}

function FindingForm({ bench, onFinding }: { bench: Bench; onFinding: (finding: BoardObservation) => void }) {
  const offered = useMemo(() => bench.devices.flatMap(doablesOf), [bench]);
  const [entered, setEntered] = useState(NOTHING);
  const onEnter = (change: Partial<Entered>) => setEntered((before) => ({ ...before, ...change }));
  const finding = findingOf(entered, offered);
  const part: Part = { bench, entered, onEnter };
  return (
    <form
      className="finding-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (finding) onFinding(finding);
        onEnter({ value: '', word: null });
      }}
    >
      <Segmented<Kind>
        block
        size="large"
        aria-label="What was found"
        options={[
          { value: 'see', label: 'I saw' },
          { value: 'volts', label: 'Volts' },
          { value: 'ohms', label: 'Ohms' },
        ]}
        value={entered.kind}
        onChange={(kind) => onEnter({ kind })}
      />
      <Doing offered={offered} {...part} />
      {entered.kind === 'see' ? <Seeing {...part} /> : <Reading {...part} />}
      <Button type="primary" size="large" block htmlType="submit" disabled={!finding}>
        Enter
      </Button>
    </form>
  );
}

/** What was done before, in order. */
function Doing({ offered, entered: { steps, kind }, onEnter }: Part & { offered: readonly Doable[] }) {
  const done = steps.join(', ');
  return (
    <div role="group" aria-label="What was done before">
      After (from rest, in this order)
      <span className="step-buttons">
        {offered.map(({ label }) => (
          <Button key={label} onClick={() => onEnter({ steps: [...steps, label] })}>
            {label}
          </Button>
        ))}
      </span>
      <output>
        {done || (kind === 'ohms' ? 'off and isolated, nothing held' : 'only the supply on')}{' '}
        {steps.length > 0 && (
          <Button size="small" type="text" onClick={() => onEnter({ steps: [] })}>
            Reset
          </Button>
        )}
      </output>
    </div>
  );
}

function Seeing({ bench, entered: { what, word }, onEnter }: Part) {
  const seen = useMemo(() => sights(bench), [bench]);
  const words = seen.find((one) => one.what === what)?.words ?? [];
  return (
    <div className="finding-row">
      <Select
        size="large"
        aria-label="Device"
        placeholder="device"
        value={what}
        options={seen.map((one) => ({ value: one.what, label: one.what.replace('.driven', '') }))}
        onChange={(next: string) => onEnter({ what: next, word: null })}
      />
      <Segmented<string>
        size="large"
        aria-label="How it was"
        options={words.map((one) => ({ value: one, label: WORDS[one] ?? one }))}
        {...(word === null ? {} : { value: word })}
        onChange={(next) => onEnter({ word: next })}
      />
    </div>
  );
}

function Reading({ bench, entered: { between, kind, value }, onEnter }: Part) {
  const terminals = useMemo(() => terminalsOf(bench), [bench]);
  const [from, to] = between;
  const terminal = (label: string, at: string | null, onChange: (ref: string) => void) => (
    <Select
      showSearch
      size="large"
      aria-label={label}
      placeholder={label.toLowerCase()}
      value={at}
      options={terminals.map((ref) => ({ value: ref, label: spellRef(ref) }))}
      onChange={onChange}
    />
  );
  return (
    <div className="finding-row">
      {terminal('From terminal', from, (ref) => onEnter({ between: [ref, to] }))}
      {terminal('To terminal', to, (ref) => onEnter({ between: [from, ref] }))}
      <Input
        size="large"
        aria-label={kind === 'volts' ? 'Volts' : 'Ohms, or open'}
        placeholder={kind === 'volts' ? '230' : '0, 350 or open'}
        value={value}
        suffix={kind === 'volts' ? 'V' : 'Ω'}
        onChange={({ target }) => onEnter({ value: target.value })}
      />
    </div>
  );
}

/** How exactly a hand reads a meter: a tenth, and a little. */
const around = (value: number, least: number) => ({
  min: Math.round((value - Math.max(least, 0.1 * Math.abs(value))) * 10) / 10,
  max: Math.round((value + Math.max(least, 0.1 * Math.abs(value))) * 10) / 10,
});

function findingOf(
  { kind, steps: named, what, word, between, value }: Entered,
  offered: readonly Doable[],
): BoardObservation | null {
  const steps = named.flatMap((name) => offered.find((one) => one.label === name)?.stimulus ?? []);
  if (kind === 'see') return what === null || word === null ? null : { steps, see: { [what]: word } };
  const [from, to] = between;
  if (!from || !to || from === to) return null;
  const meter = { mode: kind, between: [from, to] } as NonNullable<BoardObservation['meter']>;
  if (kind === 'ohms' && /^o(pen|l)?$/i.test(value.trim())) return { dead: true, steps, meter, read: 'open' };
  const number = Number(value.replace(',', '.'));
  if (value.trim() === '' || !Number.isFinite(number)) return null;
  if (kind === 'volts') return { steps, meter, read: around(number, 3) };
  return { dead: true, steps, meter, read: number <= 1 ? 'closed' : around(number, 2) };
}
