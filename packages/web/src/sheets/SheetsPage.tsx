import { useCallback, useEffect, useMemo, useState } from 'react';
import { Alert, Button, Popconfirm, Progress, Select, Table, Tag } from 'antd';
import dayjs from 'dayjs';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useQuery } from '@tanstack/react-query';
import { NOTHING_ENTERED } from '@contactum/core';
import type { Person, SheetToTake, SheetWaiting } from '@contactum/contract';
import { v4 as newId } from 'uuid';
import { ask } from '../api/client.js';
import { SheetStore, type KeptSheet } from '../api/kept.js';
import './sheets.css';
import { useToasts } from '../shell/toasts.js';

export const useSheetStore = (person: Pick<Person, 'id'>): SheetStore =>
  useMemo(() => new SheetStore(person.id), [person.id]);

/** What is kept in this browser, read again after each change. */
function useKept(store: SheetStore) {
  const [kept, setKept] = useState<{ papers: SheetToTake[]; sheets: KeptSheet[] } | null>(null);
  const again = useCallback(async () => {
    const [papers, sheets] = await Promise.all([store.papers(), store.sheets()]);
    setKept({ papers, sheets });
  }, [store]);
  const [failed, setFailed] = useState<string | null>(null);
  useEffect(() => {
    again().catch((error: unknown) => setFailed((error as Error).message));
  }, [again]);
  return { kept, again, failed };
}

const STATES: Readonly<Record<KeptSheet['state'], { readonly words: string; readonly colour?: string }>> = {
  'under way': { words: '◐ under way' },
  done: { words: '● done, to be sent', colour: 'warning' },
  sent: { words: '✓ sent', colour: 'success' },
  refused: { words: '! not taken', colour: 'error' },
};

/** Bench sheets for physical boards: taken along, entered without a network, sent when there is one. */
export function SheetsPage({ person, offline = false }: { person: Person; offline?: boolean }) {
  const store = useSheetStore(person);
  const { kept, again, failed } = useKept(store);
  const [wanted, setWanted] = useSearchParams();
  const message = useToasts();
  const setting = wanted.get('setting');
  useEffect(() => {
    if (setting === null) return;
    store
      .take(setting)
      .then(again)
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => setWanted({}, { replace: true }));
  }, [setting, store, again, setWanted, message]);
  if (failed !== null)
    return (
      <Alert
        className="page"
        type="error"
        showIcon
        title="Sheets saved in this browser cannot be opened now."
        description={`It is sealed since you signed out, and the server gives the key. ${failed}`}
      />
    );
  if (!kept) return null;
  return (
    <main className="page sheets-page">
      <div className="page-head">
        <div>
          <h1>Bench sheets</h1>
          <p className="quiet">
            For physical boards. What you enter stays in this browser until it is sent, with a network or
            without.
          </p>
        </div>
        {!offline && person.role !== 'student' && <Link to="/sheets/boards">Trainer boards</Link>}
        {!offline && <Send store={store} sheets={kept.sheets} onSent={again} />}
      </div>
      {offline && <Offline />}
      <Begin store={store} papers={kept.papers} />
      {!offline && person.role !== 'student' && <Waiting />}
      <SheetTable
        store={store}
        papers={kept.papers}
        sheets={kept.sheets}
        onChange={again}
        offline={offline}
      />
    </main>
  );
}

const Offline = () => (
  <Alert
    type="warning"
    showIcon
    title="No connection: sheets are saved here. Open this page again with the network to send them."
  />
);

/** Sheets that students have entered themselves, and that count when their instructor stands for them. */
function Waiting() {
  const { data = [] } = useQuery({
    queryKey: ['sheets', 'waiting'],
    queryFn: () => ask<SheetWaiting[]>('GET', '/sheets/waiting'),
  });
  if (data.length === 0) return null;
  return (
    <section className="sheets-waiting" aria-label="Waiting to be confirmed">
      <h2>Waiting to be confirmed</h2>
      <p className="quiet">
        Students have entered these themselves. Look at the board, open the sheet and confirm it: until then
        it counts nowhere.
      </p>
      <Table
        size="small"
        rowKey="attemptId"
        pagination={false}
        dataSource={[...data]}
        columns={[
          {
            title: 'Student',
            key: 'student',
            render: (_, one) => <Link to={`/slip/${one.attemptId}`}>{one.student}</Link>,
          },
          { title: 'Exercise', dataIndex: 'exercise' },
          { title: 'Class', dataIndex: 'className' },
          { title: 'Sent', key: 'sent', render: (_, one) => dayjs(one.sentAt).format('D MMM HH:mm') },
          {
            title: 'State',
            key: 'state',
            render: (_, { state }) => <Tag>{state === 'handed-in' ? 'being marked' : 'unconfirmed'}</Tag>,
          },
        ]}
      />
    </section>
  );
}

function Send({
  store,
  sheets,
  onSent,
}: {
  store: SheetStore;
  sheets: readonly KeptSheet[];
  onSent: () => Promise<void>;
}) {
  const ready = sheets.filter(({ state }) => state === 'done').length;
  const [part, setPart] = useState<number | null>(null);
  const message = useToasts();
  const go = () => {
    setPart(0);
    store
      .send((done, of) => setPart(of === 0 ? 100 : Math.round((100 * done) / of)))
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => {
        setPart(null);
        void onSent();
      });
  };
  return (
    <span className="page-acts">
      {part !== null && <Progress percent={part} size="small" className="sheets-sending" />}
      {(ready > 0 || part !== null) && (
        <Button type="primary" size="large" loading={part !== null} onClick={go}>
          {ready === 1 ? 'Send the sheet' : `Send ${ready} sheets`}
        </Button>
      )}
    </span>
  );
}

/** A new sheet: for which exercise, and for whom. */
function Begin({ store, papers }: { store: SheetStore; papers: readonly SheetToTake[] }) {
  const [settingId, setSettingId] = useState<string | null>(papers[0]?.settingId ?? null);
  const paper = papers.find((one) => one.settingId === settingId) ?? papers[0];
  const [studentId, setStudentId] = useState<string | null>(null);
  const navigate = useNavigate();
  const students = paper?.students ?? [];
  const student =
    students.find(({ id }) => id === studentId) ?? (students.length === 1 ? students[0] : undefined);
  if (!paper)
    return (
      <p className="quiet">
        No sheets were downloaded yet. Open a class, “Assigned exercises”, and press “Bench sheet” beside an
        exercise.
      </p>
    );
  const begin = async () => {
    if (!student) return;
    const id = newId();
    await store.put({
      id,
      settingId: paper.settingId,
      studentId: student.id,
      entries: { ...NOTHING_ENTERED, begun: new Date().toISOString() },
      photo: null,
      changedAt: new Date().toISOString(),
      state: 'under way',
      why: null,
      attemptId: null,
    });
    void navigate(`/sheets/${id}`);
  };
  return (
    <section className="sheets-begin" aria-label="A new sheet">
      <Select
        aria-label="Exercise"
        value={paper.settingId}
        options={papers.map(({ settingId: value, sheet, className }) => ({
          value,
          label: `${sheet.title}, ${className}`,
        }))}
        onChange={setSettingId}
        popupMatchSelectWidth={false}
      />
      <Select
        aria-label="Student"
        placeholder="Whose board is it?"
        showSearch={{ optionFilterProp: 'label' }}
        value={student?.id ?? null}
        options={students.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={setStudentId}
        style={{ minWidth: 220 }}
      />
      <Button type="primary" disabled={!student} onClick={() => void begin()}>
        New sheet
      </Button>
    </section>
  );
}

function SheetTable({
  store,
  papers,
  sheets,
  onChange,
  offline,
}: {
  store: SheetStore;
  papers: readonly SheetToTake[];
  sheets: readonly KeptSheet[];
  onChange: () => Promise<void>;
  offline: boolean;
}) {
  const message = useToasts();
  const paperOf = ({ settingId }: KeptSheet) => papers.find((one) => one.settingId === settingId);
  const sendAnyway = (id: string) =>
    store
      .send(() => undefined, new Set([id]))
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => void onChange());
  return (
    <Table
      size="small"
      rowKey="id"
      pagination={false}
      dataSource={[...sheets]}
      locale={{ emptyText: <span className="quiet">No sheets saved here.</span> }}
      columns={[
        {
          title: 'Student',
          key: 'student',
          render: (_, one) => (
            <Link to={one.attemptId === null ? `/sheets/${one.id}` : `/slip/${one.attemptId}`}>
              {paperOf(one)?.students.find(({ id }) => id === one.studentId)?.name ?? 'somebody'}
            </Link>
          ),
        },
        { title: 'Exercise', key: 'exercise', render: (_, one) => paperOf(one)?.sheet.title ?? '' },
        { title: 'Changed', key: 'changed', render: (_, one) => dayjs(one.changedAt).format('D MMM HH:mm') },
        { title: 'State', key: 'state', render: (_, one) => <StateOf sheet={one} /> },
        {
          title: '',
          key: 'acts',
          align: 'right',
          render: (_, one) => (
            <Acts
              sheet={one}
              offline={offline}
              onAnyway={() => void sendAnyway(one.id)}
              onRemove={() => void store.remove(one.id).then(onChange)}
            />
          ),
        },
      ]}
    />
  );
}

const StateOf = ({ sheet: { state, why } }: { sheet: KeptSheet }) => (
  <>
    <Tag color={STATES[state].colour ?? 'default'}>{STATES[state].words}</Tag> {why}
  </>
);

function Acts({
  sheet,
  offline,
  onAnyway,
  onRemove,
}: {
  sheet: KeptSheet;
  offline: boolean;
  onAnyway: () => void;
  onRemove: () => void;
}) {
  const isSent = sheet.state === 'sent';
  return (
    <span className="hand-row">
      {sheet.state === 'refused' && !offline && (
        <Button size="small" onClick={onAnyway}>
          Send anyway
        </Button>
      )}
      <Popconfirm
        title={isSent ? 'Forget it here? The slip stays.' : 'Throw this sheet away?'}
        onConfirm={onRemove}
      >
        <Button size="small" type="text">
          {isSent ? 'Forget' : 'Throw away'}
        </Button>
      </Popconfirm>
    </span>
  );
}
