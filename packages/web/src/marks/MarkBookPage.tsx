import { DownloadOutlined } from '@ant-design/icons';
import { Alert, Button, Dropdown, Select, Spin, Table, Tooltip, type TableProps } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import type { MarkBook, MarkCell } from '@contactum/contract';
import { useClasses, useMarkBook } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';
import { SpreadChart } from './SpreadChart.js';
import './mark-book.css';

/** The class by exercise: best marks, what goes wrong most, and the export. */
export function MarkBookPage() {
  const { classId } = useParams();
  const classes = useClasses();
  const navigate = useNavigate();
  const chosen = classId ?? classes.data?.[0]?.id;
  const book = useMarkBook(chosen);
  if (classes.isPending) return <Spin className="waiting" />;
  if (classes.isError) return <Alert className="page" type="error" showIcon title={classes.error.message} />;
  if (classes.data.length === 0) return <Blank title="You have no class yet." />;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Mark book</h1>
        <span className="page-acts">
          <Select
            aria-label="Class"
            value={chosen ?? null}
            style={{ minWidth: 200 }}
            options={classes.data.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(id) => void navigate(`/marks/${id}`)}
          />
          {chosen && (
            <Link to={`/marks/${chosen}/skills`} className="button-link">
              Skills
            </Link>
          )}
          <Link to="/troubles" className="button-link">
            What goes wrong
          </Link>
          {chosen && <Exports classId={chosen} />}
        </span>
      </div>
      {book.isPending && <Spin className="waiting" />}
      {book.isError && <Alert type="error" showIcon title={book.error.message} />}
      {book.data && <Book book={book.data} />}
    </main>
  );
}

/** The book as rows for a spreadsheet, or as a grade book takes it. */
function Exports({ classId }: { classId: string }) {
  const file = (form: string, text: string) => ({
    key: form,
    label: (
      <a href={`/api/classes/${classId}/marks.csv?form=${form}`} download>
        {text}
      </a>
    ),
  });
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          file('attempts', 'One row an attempt'),
          file('gradebook', 'One row a student, as grade books take it'),
        ],
      }}
    >
      <Button icon={<DownloadOutlined />}>Export CSV</Button>
    </Dropdown>
  );
}

type Row = MarkBook['students'][number];

function Book({ book }: { book: MarkBook }) {
  if (book.assignments.length === 0)
    return (
      <Blank
        title={`No exercises are assigned to ${book.name} yet.`}
        act={{ text: 'Choose an exercise', to: '/exercises' }}
      />
    );
  return (
    <>
      <Table<Row>
        size="small"
        rowKey="id"
        columns={columnsOf(book)}
        dataSource={[...book.students]}
        pagination={false}
        sticky
      />
      <h2>Medians and spread</h2>
      <SpreadChart book={book} />
      <h2>What goes wrong most</h2>
      <div className="losses">
        {book.assignments.map(({ id, title }, k) => (
          <section key={id}>
            <h3>{title}</h3>
            <Losses losses={book.losses[k] ?? []} />
          </section>
        ))}
      </div>
    </>
  );
}

const columnsOf = (book: MarkBook): NonNullable<TableProps<Row>['columns']> => [
  {
    title: 'Student',
    dataIndex: 'name',
    key: 'name',
    width: 190,
    sorter: (a, b) => a.name.localeCompare(b.name),
    rowScope: 'row',
    render: (name: string, { id }) => <Link to={`/marks/${book.id}/${id}`}>{name}</Link>,
  },
  ...book.assignments.map(({ id, title, counts, mode }, k) => ({
    title: (
      <>
        {title}
        <span className="column-note">
          {mode === 'assessment' ? 'assessment' : ''}
          {counts === 'last' ? ' the last counts' : ''}
        </span>
      </>
    ),
    key: id,
    sorter: (a: Row, b: Row) => (a.cells[k]?.result?.recorded ?? -1) - (b.cells[k]?.result?.recorded ?? -1),
    render: (_: unknown, row: Row) => <Cell cell={row.cells[k] ?? null} />,
  })),
];

/** In how many attempts each criterion was lost; the most frequent has the longest bar. */
function Losses({ losses }: { losses: MarkBook['losses'][number] }) {
  if (losses.length === 0) return <p className="quiet">No points lost yet.</p>;
  const most = Math.max(...losses.map(({ attempts }) => attempts));
  return (
    <ul>
      {losses.map(({ part, id, title, attempts }) => (
        <li key={`${part} ${id}`}>
          <span className="loss-bar" style={{ width: `${(100 * attempts) / most}%` }} />
          <span className="loss-text">
            {title} <span className="quiet">{attempts === 1 ? '1 attempt' : `${attempts} attempts`}</span>
          </span>
        </li>
      ))}
    </ul>
  );
}

const UNCONFIRMED =
  'The student has entered this sheet. Open it, look at the board and confirm it: until then it counts nowhere.';

/** Best result of a student: points, verdict in a sign and a word, how many attempts. */
function Cell({ cell }: { cell: MarkCell | null }) {
  if (!cell) return <span className="quiet">not begun</span>;
  if (cell.state === 'failed' && !cell.result)
    return (
      <Link to={`/slip/${cell.attemptId}`} className="mark-cell failed">
        <span aria-hidden="true">!</span> could not be marked
      </Link>
    );
  if (cell.unconfirmed)
    return (
      <Tooltip title={UNCONFIRMED}>
        <Link to={`/slip/${cell.attemptId}`} className="mark-cell unconfirmed">
          <span aria-hidden="true">?</span> unconfirmed
          <span className="quiet">
            {' '}
            {cell.unconfirmed.recorded} of {cell.unconfirmed.max}
          </span>
        </Link>
      </Tooltip>
    );
  if (!cell.result) return <span className="quiet">{cell.state === 'open' ? 'wiring' : 'being marked'}</span>;
  const { score, recorded, max, passed, changed, reason } = cell.result;
  const { late } = cell;
  return (
    <Tooltip title={reason ?? ''}>
      <Link to={`/slip/${cell.attemptId}`} className={`mark-cell ${passed ? 'passed' : 'failed'}`}>
        <span aria-hidden="true">{passed ? '✓' : '✕'}</span> {recorded} of {max}
        <span className="quiet">
          {passed ? '' : ' not passed'}
          {recorded < score ? ` (${score} earned)` : ''}
          {cell.attempts > 1 ? `, ${cell.attempts} attempts` : ''}
          {changed ? ', changed' : ''}
          {late ? ', late' : ''}
        </span>
        {reason !== null && <span className="mark-reason">{reason}</span>}
      </Link>
    </Tooltip>
  );
}
