import { useEffect, useMemo, useState } from 'react';
import { CloseOutlined } from '@ant-design/icons';
import { Button, Input, Select, Spin } from 'antd';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import {
  compile,
  describeFault,
  possibleFaults,
  shapeOf,
  writeFault,
  type Bench,
  type Stimulus,
} from '@contactum/core';
import type { FloorBench } from '@contactum/contract';
import { Board } from '../board/Board.js';
import { Messages } from '../messages/Messages.js';
import { WordBox } from '../messages/WordBox.js';
import type { Act } from '../board/Handle.js';
import { useBoard } from './floor-board.js';
import type { FloorWalk } from './floor-line.js';
import type { createSeen } from './seen.js';
import { ShoulderProof } from './ShoulderProof.js';

/** A bench over its student's shoulder: what is wired, what runs, and what the instructor may do there. */
export function ShoulderView({
  bench,
  line,
  seen,
  onClose,
}: {
  bench: FloorBench;
  line: FloorWalk;
  seen: ReturnType<typeof createSeen>;
  onClose: () => void;
}) {
  const { attemptId, student, exercise, status, asksAt, searchId } = bench;
  const board = useBoard(attemptId, status?.edits ?? 0);
  const lead = useStore(line.store, (state) => state.lead?.attemptId === attemptId && state.lead.yes);
  const act = useHand(line, attemptId, seen, lead);
  const { data } = board;
  useEffect(() => {
    if (data) seen.know(shapeOf(data.bench));
  }, [data, seen]);
  return (
    <section className="shoulder" aria-label={`Bench of ${student}`}>
      <header>
        <div>
          <h2>{student}</h2>
          <p className="quiet">{exercise}</p>
        </div>
        <Button type="text" icon={<CloseOutlined />} aria-label="Close this bench" onClick={onClose} />
      </header>
      {searchId !== null ? (
        <p>
          Fault finding: <Link to={`/faults?board=${bench.exerciseId}`}>look on at the Fault desk</Link>,
          where faults go in and out too.
        </p>
      ) : (
        <>
          <div className="shoulder-board">
            {data ? (
              <Board
                bench={data.bench}
                live={seen.live}
                {...(lead ? { act } : {})}
                label={`Board of ${student}`}
              />
            ) : (
              <Spin />
            )}
          </div>
          {data && <ShoulderProof board={data} />}
          <Hands bench={bench} line={line} lead={lead} board={data?.bench} asks={asksAt !== null} />
        </>
      )}
    </section>
  );
}

/** The hand of an instructor who has the lead. */
function useHand(
  line: FloorWalk,
  attemptId: string,
  seen: ReturnType<typeof createSeen>,
  lead: boolean,
): Act {
  return useMemo(
    () => ({
      give: (stimulus: Stimulus) => {
        if (lead) line.say({ kind: 'hand', attemptId, hand: { do: 'act', stimulus } });
      },
      stateOf: (tag: string) => {
        const { shape, frame } = seen.live.store.getState();
        return frame?.states[shape?.devices.indexOf(tag) ?? -1] ?? '';
      },
    }),
    [line, attemptId, seen, lead],
  );
}

function Hands({
  bench,
  line,
  lead,
  board,
  asks,
}: {
  bench: FloorBench;
  line: FloorWalk;
  lead: boolean;
  board: Bench | undefined;
  asks: boolean;
}) {
  const { attemptId, here } = bench;
  return (
    <div className="shoulder-hands">
      <span className="hand-row">
        <Button type={asks ? 'primary' : 'default'} onClick={() => line.say({ kind: 'permit', attemptId })}>
          Permit to energise
        </Button>
        <Lead key={String(lead)} attemptId={attemptId} line={line} lead={lead} here={here} />
      </span>
      {lead && <TypedHand attemptId={attemptId} line={line} />}
      <BenchMessages bench={bench} line={line} />
      {board && <Faults board={board} line={line} attemptId={attemptId} here={here} />}
    </div>
  );
}

/** What was written to and from this bench, and a line to answer. */
function BenchMessages({ bench: { attemptId, word }, line }: { bench: FloorBench; line: FloorWalk }) {
  const words = useStore(line.store, (state) => state.words);
  return (
    <>
      <Messages words={words} isOwn={({ isStudents }) => !isStudents} />
      <WordBox
        to="this bench"
        label="Message this bench"
        onSay={(text) => line.say({ kind: 'word', attemptId, text })}
      />
      {word !== null && (
        <span className="hand-row">
          <Button size="small" onClick={() => line.say({ kind: 'heard', attemptId })}>
            No answer needed
          </Button>
        </span>
      )}
    </>
  );
}

/** A lead or an act, typed as at the bench itself. */
function TypedHand({ attemptId, line }: { attemptId: string; line: FloorWalk }) {
  const [typed, setTyped] = useState('');
  const type = () => {
    if (typed.trim() !== '') line.say({ kind: 'hand', attemptId, hand: { do: 'line', line: typed.trim() } });
    setTyped('');
  };
  return (
    <span className="hand-row">
      <Input
        className="mono"
        aria-label="Type a lead for this bench"
        placeholder="KM1 13 > S2 13, cut KM1 13 > S2 13, on, off, undo"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        onPressEnter={type}
      />
      <Button onClick={type}>Do it</Button>
    </span>
  );
}

/** Asking for the lead, and giving it back. */
function Lead({
  attemptId,
  line,
  lead,
  here,
}: {
  attemptId: string;
  line: FloorWalk;
  lead: boolean;
  here: boolean;
}) {
  const [asked, setAsked] = useState(false);
  return (
    <>
      {lead ? (
        <Button
          onClick={() => {
            line.say({ kind: 'leave-lead', attemptId });
            line.store.setState({ lead: null });
          }}
        >
          Give the lead back
        </Button>
      ) : (
        <Button
          disabled={!here}
          onClick={() => {
            line.say({ kind: 'ask-lead', attemptId });
            setAsked(true);
          }}
        >
          {asked ? 'Asked; the student must agree' : 'Ask for the lead'}
        </Button>
      )}
    </>
  );
}

/** A fault into the bench as it runs, and out again: it is in the student's own browser, and in no mark. */
function Faults({
  board,
  line,
  attemptId,
  here,
}: {
  board: Bench;
  line: FloorWalk;
  attemptId: string;
  here: boolean;
}) {
  const possible = useMemo(() => possibleFaults(compile(board)), [board]);
  const [chosen, setChosen] = useState<number | null>(null);
  const fault = chosen === null ? undefined : possible[chosen];
  const put = (clear: boolean) =>
    fault && line.say({ kind: 'fault', attemptId, fault: writeFault(fault), clear });
  return (
    <span className="hand-row">
      <Select
        showSearch={{ optionFilterProp: 'label' }}
        aria-label="A fault for this bench"
        placeholder="a fault"
        value={chosen}
        style={{ flex: 1, minWidth: 0 }}
        options={possible.map((one, k) => ({ value: k, label: describeFault(one) }))}
        onChange={(k: number) => setChosen(k)}
      />
      <Button disabled={!here || !fault} onClick={() => put(false)}>
        Inject
      </Button>
      <Button disabled={!here || !fault} onClick={() => put(true)}>
        Clear fault
      </Button>
    </span>
  );
}
