import { useState } from 'react';
import { Alert, Button, Tag } from 'antd';
import { useStore } from 'zustand';
import { describeStimulus, plural, spellRef, type Stimulus } from '@contactum/core';
import type { BoardNow, ScannerBox } from '@contactum/contract';
import type { PhysicalBoard, PhysicalState } from '../physical-board.js';
import { useScanners } from '../../api/queries.js';
import type { ViewProps } from './view-props.js';
import './physical.css';

const LIST_MS = 5_000;

/** The trainer board at the bench: connected, read, worked, and what its scanner cannot tell. */
export function PhysicalPane({ physical, view }: ViewProps) {
  if (!physical) return <p className="quiet">No trainer board of the college has a scanner.</p>;
  return <Board board={physical} attemptId={view.attempt.id} />;
}

function Board({ board, attemptId }: { board: PhysicalBoard; attemptId: string }) {
  const state = useStore(board.store);
  return (
    <div className="physical">
      <p className="physical-caution">
        Isolate the board, lock it off and prove it dead before you touch it. What is shown here is a teaching
        aid and no safety function: the board’s own protection decides.
      </p>
      {state.id === null ? (
        <Choice board={board} attemptId={attemptId} />
      ) : (
        <>
          <StateLine state={state} />
          {state.now && <Doubts now={state.now} />}
          {state.working ? <Working board={board} state={state} /> : <Seen board={board} state={state} />}
          {state.problem !== null && <Alert type="warning" showIcon title={state.problem} />}
          <footer className="hand-row">
            {!state.working && (
              <Button type="primary" disabled={!canRead(state.now)} onClick={() => board.work()}>
                Read with devices operated
              </Button>
            )}
            <Button onClick={() => void board.leave()}>Disconnect</Button>
          </footer>
        </>
      )}
    </div>
  );
}

const canRead = (now: BoardNow | null): boolean => now?.online === true && now.faults.length === 0;

/** Which board somebody stands at. */
function Choice({ board, attemptId }: { board: PhysicalBoard; attemptId: string }) {
  const { data = [] } = useScanners(LIST_MS);
  const [problem, setProblem] = useState<string | null>(null);
  const connect = ({ id, name }: ScannerBox) => {
    setProblem(null);
    board.connect(id, name, attemptId).catch((error: unknown) => setProblem((error as Error).message));
  };
  return (
    <>
      <p>Connect the trainer board that you stand at: the leads that you plug appear on this bench.</p>
      <ul className="physical-boards">
        {data.map((box) => (
          <li key={box.id}>
            <b>{box.name}</b>
            <span className="quiet">{stateWords(box)}</span>
            <Button size="small" disabled={!box.online} onClick={() => connect(box)}>
              Connect
            </Button>
          </li>
        ))}
      </ul>
      {problem !== null && <Alert type="warning" showIcon title={problem} />}
    </>
  );
}

const stateWords = ({ online, usedBy, terminals }: ScannerBox): string => {
  if (!online) return 'not connected to the server';
  return `${plural(terminals, 'terminal')}, ${usedBy === null ? 'free' : 'in use'}`;
};

function StateLine({ state: { name, now, isHeard } }: { state: PhysicalState }) {
  const { online = false, faults = [], permit } = now ?? {};
  const words = !isHeard
    ? '○ no line to the server'
    : !online
      ? '○ the scanner is not connected'
      : '● being read';
  return (
    <>
      <p className="physical-state">
        <b>{name}</b> <Tag>{words}</Tag>
        {permit && <Tag>{permit.isClosed ? '● permit relay closed' : '○ permit relay open'}</Tag>}
      </p>
      {faults.map((fault) => (
        <Alert key={fault} type="error" showIcon title={fault} />
      ))}
    </>
  );
}

/** What the scanner is not sure of, by kind: a loose lead, a driver of the box, a screw that is not tight. */
function Doubts({ now: { doubtful, poor } }: { now: BoardNow }) {
  if (doubtful.length + poor.length === 0) return null;
  return (
    <ul className="physical-doubts">
      {doubtful.map(({ between: [a, b], kind, share }) => (
        <li key={`${a} ${b}`}>
          <b>
            {spellRef(a)} – {spellRef(b)}
          </b>{' '}
          {kind === 'flickers'
            ? `flickers, joined ${Math.round(100 * share)} % of the time: a loose ferrule or plug?`
            : 'is seen from one side alone: a driver of the box, not the wiring'}
        </li>
      ))}
      {poor.map(([a, b]) => (
        <li key={`${a} ${b}`}>
          <b>
            {spellRef(a)} – {spellRef(b)}
          </b>{' '}
          1 to 10 Ω: is the screw tight?
        </li>
      ))}
    </ul>
  );
}

/** What is known of devices and contacts while the board is wired. */
function Seen({ board, state: { steps, apart, open } }: { board: PhysicalBoard; state: PhysicalState }) {
  return (
    <>
      {steps.length > 0 && (
        <div className="physical-worked">
          <p>
            Operated by hand: <b>{wordsOf(steps)}</b>. Or a lead does the same.
          </p>
          <Button size="small" onClick={() => board.look(true)}>
            It is a lead
          </Button>
        </div>
      )}
      {apart.length > 0 && (
        <Alert
          type="warning"
          showIcon
          title={`Open, and should be closed on a board at rest: ${apart.map(spelled).join(', ')}`}
        />
      )}
      {open === null ? (
        <p className="quiet">
          A lead across a closed contact, such as one past the Stop button, is not seen at rest. Read the
          board with its devices operated to find it.
        </p>
      ) : (
        <OpenPlaces open={open} />
      )}
    </>
  );
}

const spelled = (place: string): string => place.replace(/:/g, ' ');
const wordsOf = (steps: readonly Stimulus[]): string => steps.map(describeStimulus).join(', ');

function OpenPlaces({ open: { doubtful, unlike } }: { open: NonNullable<PhysicalState['open']> }) {
  if (doubtful.length + unlike.length === 0)
    return <Alert type="success" showIcon title="Every lead is told from the contacts beside it." />;
  return (
    <ul className="physical-doubts">
      {doubtful.map(({ terminals, through }) => (
        <li key={terminals.join(' ')}>
          <b>{terminals.map(spellRef).join(', ')}</b>: joined by leads, or through{' '}
          {through.map(spelled).join(', ')}
        </li>
      ))}
      {unlike.map(({ contact, reading }) => (
        <li key={`${contact} ${reading}`}>
          <b>{spelled(contact)}</b> did not close as it should
        </li>
      ))}
    </ul>
  );
}

/** One reading after the other, with what is to be held. */
function Working({ board, state: { working, now } }: { board: PhysicalBoard; state: PhysicalState }) {
  const [busy, setBusy] = useState(false);
  const next = working?.[0];
  if (!working || !next) return null;
  const take = () => {
    setBusy(true);
    void board.takeReading().finally(() => setBusy(false));
  };
  return (
    <section className="physical-working" aria-label="Reading with devices operated">
      <p role="status">
        {next.length === 0
          ? 'Let go of everything: the board lies at rest.'
          : `Do this and keep it so: ${wordsOf(next)}.`}
      </p>
      <p className="quiet">
        {working.length === 1 ? 'The last reading.' : `${plural(working.length, 'reading')} are left.`}
      </p>
      <div className="hand-row">
        <Button type="primary" loading={busy} disabled={!canRead(now)} onClick={take}>
          Take reading
        </Button>
        <Button onClick={() => board.stopWork()}>Cancel</Button>
      </div>
    </section>
  );
}
