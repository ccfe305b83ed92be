import { useState } from 'react';
import { CaretRightOutlined, PauseOutlined, PlusOutlined } from '@ant-design/icons';
import { Alert, Button, Input, InputNumber, Modal, Table, Tag, Timeline } from 'antd';
import { Link } from 'react-router';
import type { AssessmentForInstructor, Invigilation, SittingRow } from '@contactum/contract';
import { useActs } from './use-acts.js';
import { useSecondsLeft } from './use-clock.js';
import { at, clockTime, minutesAndSeconds } from './words.js';
import '../classes/classes.css';

/** Nobody has heard of a window for so long, seconds. */
const AWAY = 20;

/** What asks for a reason before it is done. */
type Asked = Extract<Invigilation, { do: 'pause' | 'extend' | 'void' | 'note' }>['do'];
interface Asking {
  readonly what: Asked;
  /** Nobody: for all. */
  readonly student: SittingRow['student'] | null;
  /** Minutes that are offered. */
  readonly minutes?: number;
}

/** The room: who sits, how long everybody has left, and what the invigilator does. */
export function Invigilate({ view }: { view: AssessmentForInstructor }) {
  const { go } = useActs(view.id);
  const [asking, setAsking] = useState<Asking | null>(null);
  const act = (body: Invigilation) => go({ act: 'invigilate', body });
  return (
    <>
      {view.code !== null && (
        <p>
          Room code: <strong className="mono room-code">{view.code}</strong>
        </p>
      )}
      {view.addresses !== undefined && view.addresses.length > 0 && (
        <p>
          Allowed addresses: <span className="mono">{view.addresses.join(', ')}</span>
        </p>
      )}
      <SheetLinks view={view} />
      <ForAll view={view} act={act} onAsk={setAsking} />
      <RoomTable view={view} act={act} onAsk={setAsking} />
      <Happened view={view} />
      {asking && <AskWhy asking={asking} onAct={act} onClose={() => setAsking(null)} />}
    </>
  );
}

/** Tasks on the physical board: their bench sheets are entered here, or without a network. */
function SheetLinks({ view }: { view: AssessmentForInstructor }) {
  if (view.sheets.length === 0 || view.signedOff !== null) return null;
  const sat = view.sittings.filter(({ startedAt, voided }) => startedAt !== null && voided === null);
  return (
    <ul className="sheet-links" aria-label="Bench sheets">
      {view.sheets.map(({ task, settingId }) => {
        const title = view.tasks.find(({ id }) => id === task)?.title ?? '';
        const entered = sat.filter(({ attempts }) => attempts.some((one) => one.task === task)).length;
        return (
          <li key={task}>
            <strong>{title}</strong> <span className="quiet">on the physical board:</span>{' '}
            <Link to={`/sheets?setting=${settingId}`}>Bench sheets</Link>{' '}
            <span className="quiet">
              {entered} of {sat.length} entered
            </span>
          </li>
        );
      })}
    </ul>
  );
}

interface Hands {
  readonly act: (body: Invigilation) => void;
  readonly onAsk: (asking: Asking) => void;
}

/** What is done to everybody at once. */
function ForAll({ view, act, onAsk }: Hands & { view: AssessmentForInstructor }) {
  const waiting = view.sittings.filter(({ startedAt, voided }) => startedAt === null && voided === null);
  const under = view.sittings.filter((one) => isUnder(one, view.now));
  const paused = under.filter(({ pausedAt }) => pausedAt !== null);
  const isClosed = view.signedOff !== null || view.state === 'withdrawn';
  return (
    <div className="room-acts">
      <Button
        type="primary"
        icon={<CaretRightOutlined />}
        disabled={waiting.length === 0 || isClosed}
        onClick={() => act({ do: 'start' })}
      >
        Start all ({waiting.length})
      </Button>
      {paused.length > 0 ? (
        <Button icon={<CaretRightOutlined />} onClick={() => act({ do: 'resume' })}>
          Resume all ({paused.length})
        </Button>
      ) : (
        <Button
          icon={<PauseOutlined />}
          disabled={under.length === 0}
          onClick={() => onAsk({ what: 'pause', student: null })}
        >
          Pause all
        </Button>
      )}
      <Button
        icon={<PlusOutlined />}
        disabled={under.length === 0}
        onClick={() => onAsk({ what: 'extend', student: null, minutes: 5 })}
      >
        More time for all
      </Button>
      <Button disabled={isClosed} onClick={() => onAsk({ what: 'note', student: null })}>
        Note
      </Button>
    </div>
  );
}

/** What happened in the room, the newest first. */
function Happened({ view }: { view: AssessmentForInstructor }) {
  return (
    <>
      <h2>Events</h2>
      <Timeline
        items={view.events.map((one) => ({
          key: one.id,
          content: (
            <>
              <span className="mono">{clockTime(one.at)}</span> {nameOf(view, one.studentId)}{' '}
              <strong>{one.kind}</strong>
              {one.text !== '' && `: ${one.text}`} <span className="quiet">({one.by})</span>
            </>
          ),
        }))}
      />
      {view.events.length === 0 && (
        <p className="quiet">No events yet. Starts, pauses, absences and notes are written down here.</p>
      )}
    </>
  );
}

const nameOf = ({ sittings }: AssessmentForInstructor, id: string | null): string =>
  sittings.find(({ student }) => student.id === id)?.student.name ?? '';

/** True while somebody's time runs or stands. */
const isUnder = ({ startedAt, handedInAt, voided, pausedAt, endsAt }: SittingRow, now: string): boolean =>
  startedAt !== null &&
  handedInAt === null &&
  voided === null &&
  (pausedAt !== null || (endsAt !== null && endsAt > now));

/** Seconds for which nobody has heard of a window that should be there; 0 of one that is. */
const awayFor = (one: SittingRow, now: string): number => {
  if (!isUnder(one, now) || one.pausedAt !== null) return 0;
  const since = (Date.parse(now) - Date.parse(one.seenAt ?? one.startedAt ?? now)) / 1000;
  return since > AWAY ? since : 0;
};

function RoomTable({ view, act, onAsk }: Hands & { view: AssessmentForInstructor }) {
  const { now } = view;
  return (
    <Table<SittingRow>
      size="small"
      rowKey={({ student }) => student.id}
      pagination={false}
      dataSource={[...view.sittings]}
      columns={[
        { title: 'Student', rowScope: 'row', render: (_, { student }) => student.name },
        { title: 'State', render: (_, row) => <Standing row={row} now={now} /> },
        {
          title: 'Time left',
          render: (_, row) => isUnder(row, now) && <Left row={row} now={now} />,
        },
        {
          title: 'Tasks',
          render: (_, { attempts }) =>
            view.tasks
              .filter(({ kind }) => kind === 'exercise')
              .map(({ id, title }) => <TaskMark key={id} title={title} state={stateOf(attempts, id)} />),
        },
        {
          title: 'Away',
          render: (_, { awaySeconds }) =>
            awaySeconds > 0 && <span className="mono">{minutesAndSeconds(awaySeconds)}</span>,
        },
        { title: 'Address', render: (_, { address }) => <span className="mono">{address}</span> },
        {
          title: 'Actions',
          key: 'acts',
          render: (_, row) => <RowActs {...{ row, now, act, onAsk }} />,
        },
      ]}
    />
  );
}

const stateOf = (attempts: SittingRow['attempts'], task: string): string =>
  attempts.find((one) => one.task === task)?.state ?? 'not begun';

function TaskMark({ title, state }: { title: string; state: string }) {
  const sign = state === 'not begun' ? '○' : state === 'open' ? '◐' : '●';
  return (
    <span className="task-mark" title={`${title}: ${state === 'open' ? 'under way' : state}`}>
      {sign}
      <span className="visually-hidden">
        {title}: {state}
      </span>
    </span>
  );
}

function Standing({ row, now }: { row: SittingRow; now: string }) {
  const away = awayFor(row, now);
  if (row.voided) return <Tag color="red">void: {row.voided.reason}</Tag>;
  if (row.startedAt === null) return <span className="quiet">not started</span>;
  if (!isUnder(row, now)) return <span>handed in {row.handedInAt ? at(row.handedInAt) : 'at the end'}</span>;
  if (row.pausedAt !== null) return <Tag color="orange">paused</Tag>;
  if (away > 0 && row.seenAt === null) return <Tag color="red">not here yet</Tag>;
  return away > 0 ? (
    <Tag color="red">away for {minutesAndSeconds(away)}</Tag>
  ) : (
    <Tag color="green">working</Tag>
  );
}

function Left({ row, now }: { row: SittingRow; now: string }) {
  const left = useSecondsLeft({ now, endsAt: row.endsAt, pausedAt: row.pausedAt });
  return left === null ? null : <span className="mono">{minutesAndSeconds(left)}</span>;
}

function RowActs({ row, now, act, onAsk }: Hands & { row: SittingRow; now: string }) {
  const { student } = row;
  const students = [student.id];
  const giveBack = Math.round((row.awaySeconds / 60) * 2) / 2;
  if (row.voided) return null;
  if (row.startedAt === null)
    return (
      <Button size="small" onClick={() => act({ do: 'start', students })}>
        Start
      </Button>
    );
  return (
    <span className="row-acts">
      {isUnder(row, now) && (
        <>
          {row.pausedAt === null ? (
            <Button size="small" onClick={() => onAsk({ what: 'pause', student })}>
              Pause
            </Button>
          ) : (
            <Button size="small" onClick={() => act({ do: 'resume', students })}>
              Resume
            </Button>
          )}
          <Button
            size="small"
            onClick={() => onAsk({ what: 'extend', student, minutes: giveBack >= 0.5 ? giveBack : 5 })}
          >
            More time
          </Button>
        </>
      )}
      <Button size="small" onClick={() => onAsk({ what: 'note', student })}>
        Note
      </Button>
      <Button size="small" danger onClick={() => onAsk({ what: 'void', student })}>
        Void
      </Button>
    </span>
  );
}

const TITLES: Readonly<Record<Asked, string>> = {
  pause: 'Stop the clock',
  extend: 'More time',
  void: 'Void this sitting',
  note: 'Note',
};

function actOf(
  what: Asked,
  student: string | null,
  { why, minutes }: { readonly why: string; readonly minutes: number },
): Invigilation {
  const students = student === null ? {} : { students: [student] };
  if (what === 'note' || (student === null && what === 'void')) return { do: 'note', student, text: why };
  if (what === 'extend') return { do: 'extend', ...students, minutes, why };
  return what === 'void' ? { do: 'void', student: student ?? '', why } : { do: 'pause', ...students, why };
}

/** Asks for the reason, which stands in the record. */
function AskWhy({
  asking: { what, student, minutes: offered = 5 },
  onAct,
  onClose,
}: {
  asking: Asking;
  onAct: (body: Invigilation) => void;
  onClose: () => void;
}) {
  const [why, setWhy] = useState('');
  const [minutes, setMinutes] = useState(offered);
  const go = () => {
    onAct(actOf(what, student?.id ?? null, { why, minutes }));
    onClose();
  };
  return (
    <Modal
      open
      title={`${TITLES[what]}: ${student?.name ?? 'everybody'}`}
      okText={what === 'note' ? 'Save' : TITLES[what]}
      okButtonProps={{ disabled: why.trim().length < 3, danger: what === 'void' }}
      onCancel={onClose}
      onOk={go}
    >
      {what === 'void' && (
        <Alert
          type="warning"
          showIcon
          title="What was done is handed in and kept, and counts nowhere. A void sitting is not taken back."
        />
      )}
      {what === 'extend' && (
        <label className="setting-row">
          <span>Minutes</span>
          <InputNumber
            aria-label="Minutes"
            min={0.5}
            max={300}
            step={0.5}
            value={minutes}
            onChange={(next) => setMinutes(next ?? offered)}
          />
        </label>
      )}
      <label className="setting-row">
        <span>{what === 'note' ? 'Note' : 'Reason'}</span>
        <Input
          aria-label={what === 'note' ? 'Note' : 'Reason'}
          autoFocus
          maxLength={500}
          value={why}
          onChange={({ target }) => setWhy(target.value)}
          onPressEnter={() => why.trim().length >= 3 && go()}
        />
      </label>
    </Modal>
  );
}
