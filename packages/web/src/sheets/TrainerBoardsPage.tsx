import { useState } from 'react';
import { Alert, Button, Input, Popconfirm, Table, Tag } from 'antd';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import dayjs from 'dayjs';
import { plural } from '@contactum/core';
import type { ScannerBox, ScannerMade } from '@contactum/contract';
import { ask } from '../api/client.js';
import { useScanners } from '../api/queries.js';
import './sheets.css';

const LIST_MS = 3_000;

const RELAY_WORDS = [
  'It closes after the proof finds no short circuit and you give permission on the Floor, and opens at any change.',
  'Isolate, lock off and prove dead before anybody works at a board; the board’s own protection decides.',
].join(' ');

/** Trainer boards that a scanner reads: which there are, who works at them, and their permit relays. */
export function TrainerBoardsPage() {
  const client = useQueryClient();
  const { data, error } = useScanners(LIST_MS);
  const again = () => client.invalidateQueries({ queryKey: ['scanners'] });
  const act = useMutation({
    mutationFn: ({ method, path }: { method: 'POST' | 'DELETE'; path: string }) =>
      ask(method, `/scanners/${path}`, method === 'POST' ? {} : undefined),
    onSettled: again,
  });
  const problem = error ?? act.error;
  return (
    <main className="page sheets-page">
      <div className="page-head">
        <div>
          <h1>Trainer boards</h1>
          <p className="quiet">
            Boards whose scanner is connected to the server by a gateway at the bench. A student connects one
            from <i>Trainer board</i> on the Bench; its leads then appear there as they are plugged.
          </p>
        </div>
        <Link to="/sheets">Bench sheets</Link>
      </div>
      <Alert
        type="warning"
        showIcon
        title="The permit relay is a teaching aid and no safety function."
        description={RELAY_WORDS}
      />
      {problem && <Alert type="error" showIcon title={problem.message} />}
      <Boards
        boards={data}
        isFailed={error !== null}
        onAct={(method, path) => act.mutate({ method, path })}
      />
      <Add onAdded={again} />
    </main>
  );
}

type OnAct = (method: 'POST' | 'DELETE', path: string) => void;

function Boards({
  boards,
  isFailed,
  onAct,
}: {
  boards: ScannerBox[] | undefined;
  isFailed: boolean;
  onAct: OnAct;
}) {
  return (
    <Table<ScannerBox>
      size="small"
      rowKey="id"
      pagination={false}
      dataSource={boards ?? []}
      loading={boards === undefined && !isFailed}
      locale={{ emptyText: <span className="quiet">No board has a scanner yet.</span> }}
      columns={[
        { title: 'Board', dataIndex: 'name' },
        { title: 'Scanner', key: 'state', render: (_, box) => <StateOf box={box} /> },
        {
          title: 'In use by',
          key: 'user',
          render: (_, { usedBy }) =>
            usedBy ? (
              <Link to={`/slip/${usedBy.attemptId}`}>{usedBy.student}</Link>
            ) : (
              <span className="quiet">free</span>
            ),
        },
        {
          title: 'Permit relay',
          key: 'permit',
          render: (_, { permit }) => (permit.isClosed ? '● closed' : '○ open'),
        },
        {
          title: '',
          key: 'acts',
          align: 'right',
          render: (_, box) => <Acts box={box} onAct={onAct} />,
        },
      ]}
    />
  );
}

function StateOf({ box: { online, serial, terminals, faults, lastSeen } }: { box: ScannerBox }) {
  if (!online)
    return (
      <>
        <Tag>○ not connected</Tag>
        {serial !== null && <span className="mono quiet">{serial}</span>}
        {lastSeen !== null && (
          <span className="quiet"> last seen {dayjs(lastSeen).format('D MMM HH:mm')}</span>
        )}
      </>
    );
  return (
    <>
      <Tag>{faults[0] === undefined ? '● being read' : `! ${faults[0]}`}</Tag>
      <span className="quiet">
        <span className="mono">{serial}</span>, {plural(terminals, 'terminal')}
      </span>
    </>
  );
}

function Acts({ box: { id, name, usedBy, permit }, onAct }: { box: ScannerBox; onAct: OnAct }) {
  return (
    <span className="hand-row">
      {(permit.isGiven || permit.isClosed) && (
        <Button size="small" danger onClick={() => onAct('POST', `${id}/open`)}>
          Open the relay
        </Button>
      )}
      {usedBy && (
        <Button size="small" onClick={() => onAct('POST', `${id}/leave`)}>
          Disconnect
        </Button>
      )}
      <Popconfirm
        title={`Remove ${name}? Its token is good no longer.`}
        okText="Remove"
        onConfirm={() => onAct('DELETE', id)}
      >
        <Button size="small" type="text">
          Remove
        </Button>
      </Popconfirm>
    </span>
  );
}

/** A new board: its name, then its token, which is shown this once. */
function Add({ onAdded }: { onAdded: () => Promise<void> }) {
  const [name, setName] = useState('');
  const add = useMutation({
    mutationFn: () => ask<ScannerMade>('POST', '/scanners', { name }),
    onSuccess: () => {
      setName('');
      void onAdded();
    },
  });
  return (
    <section aria-label="Add a trainer board" className="trainer-board-add">
      <h2>Add a trainer board</h2>
      <span className="hand-row">
        <Input
          aria-label="Name of the board"
          placeholder="such as Bench 7"
          value={name}
          maxLength={60}
          style={{ width: 240 }}
          onChange={({ target }) => setName(target.value)}
          onPressEnter={() => name.trim() !== '' && add.mutate()}
        />
        <Button
          type="primary"
          disabled={name.trim() === ''}
          loading={add.isPending}
          onClick={() => add.mutate()}
        >
          Add
        </Button>
      </span>
      {add.error && <Alert type="error" showIcon title={add.error.message} />}
      {add.data && (
        <Alert
          type="info"
          showIcon
          title={`The token of ${add.data.name}: it is shown this once.`}
          description={
            <>
              <p>
                <code className="trainer-board-token">{add.data.token}</code>
              </p>
              <p>On the computer at the bench, put it into a file that nobody else may read, and start:</p>
              <pre className="trainer-board-command">
                {`contactum gateway --address SCANNER --server ${window.location.origin} --token-file FILE`}
              </pre>
            </>
          }
        />
      )}
    </section>
  );
}
