import { DownloadOutlined } from '@ant-design/icons';
import { Alert, Button, Select, Spin, Table, Tooltip, type TableProps } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import type { MarkBook, MarkCell } from '@contactum/contract';
import { useClasses, useMarkBook } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';

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
          <Button
            icon={<DownloadOutlined />}
            {...(chosen ? { href: `/api/classes/${chosen}/marks.csv`, download: true } : { disabled: true })}
          >
            Export CSV
          </Button>
        </span>
      </div>
      {book.isPending && <Spin className="waiting" />}
      {book.isError && <Alert type="error" showIcon title={book.error.message} />}
      {book.data && <Book book={book.data} />}
    </main>
  );
}

type Row = MarkBook['students'][number];

function Book({ book }: { book: MarkBook }) {
  if (book.assignments.length === 0)
    return (
      <Blank
        title={`Nothing is set to ${book.name} yet.`}
        act={{ text: 'Choose an exercise', to: '/exercises' }}
      />
    );
  const columns: NonNullable<TableProps<Row>['columns']> = [
    {
      title: 'Student',
      dataIndex: 'name',
      key: 'name',
      width: 190,
      sorter: (a, b) => a.name.localeCompare(b.name),
      rowScope: 'row',
    },
    ...book.assignments.map((assignment, k) => ({
      title: assignment.title,
      key: assignment.id,
      sorter: (a: Row, b: Row) => (a.cells[k]?.result?.score ?? -1) - (b.cells[k]?.result?.score ?? -1),
      render: (_: unknown, row: Row) => <Cell cell={row.cells[k] ?? null} />,
    })),
  ];
  return (
    <>
      <Table<Row>
        size="small"
        rowKey="id"
        columns={columns}
        dataSource={[...book.students]}
        pagination={false}
        sticky
      />
      <h2>What goes wrong most</h2>
      <div className="losses">
        {book.assignments.map((assignment, k) => (
          <section key={assignment.id}>
            <h3>{assignment.title}</h3>
            {book.losses[k]?.length === 0 && <p className="quiet">Nothing lost yet.</p>}
            <ul>
              {book.losses[k]?.map(({ part, title, attempts }) => (
                <li key={`${part} ${title}`}>
                  <span
                    className="loss-bar"
                    style={{
                      width: `${(100 * attempts) / Math.max(...(book.losses[k] ?? []).map((loss) => loss.attempts))}%`,
                    }}
                  />
                  <span className="loss-text">
                    {title}{' '}
                    <span className="quiet">{attempts === 1 ? '1 attempt' : `${attempts} attempts`}</span>
                  </span>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}

/** Best result of a student: points, verdict in a sign and a word, how many attempts. */
function Cell({ cell }: { cell: MarkCell | null }) {
  if (!cell) return <span className="quiet">not begun</span>;
  if (cell.state === 'failed' && !cell.result)
    return (
      <Link to={`/slip/${cell.attemptId}`} className="mark-cell failed">
        <span aria-hidden="true">!</span> could not be marked
      </Link>
    );
  if (!cell.result) return <span className="quiet">{cell.state === 'open' ? 'wiring' : 'being marked'}</span>;
  const { score, max, passed, changed, reason } = cell.result;
  return (
    <Tooltip title={reason ?? ''}>
      <Link to={`/slip/${cell.attemptId}`} className={`mark-cell ${passed ? 'passed' : 'failed'}`}>
        <span aria-hidden="true">{passed ? '✓' : '✕'}</span> {score} of {max}
        <span className="quiet">
          {passed ? '' : ' not passed'}
          {cell.attempts > 1 ? `, ${cell.attempts} attempts` : ''}
          {changed ? ', changed' : ''}
        </span>
        {reason !== null && <span className="mark-reason">{reason}</span>}
      </Link>
    </Tooltip>
  );
}
