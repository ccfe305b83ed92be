import { Alert, Button, Empty, Spin, Table } from 'antd';
import { useQuery } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { Logbook, LogbookLine } from '@contactum/contract';
import { ask } from '../api/client.js';
import { save } from '../drawing/save.js';
import { useToasts } from '../shell/toasts.js';

/** A student's practical record over the years, theirs to take along. */
export function LogbookPage() {
  const query = useQuery({ queryKey: ['logbook'], queryFn: () => ask<Logbook>('GET', '/logbook') });
  const message = useToasts();
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const book = query.data;
  const hours = book.lines.reduce((sum, line) => sum + line.hours, 0);
  const pdf = () =>
    import('./logbook-pdf.js')
      .then(({ logbookPdf }) => logbookPdf(book))
      .then((file) => save(file, 'logbook.pdf'))
      .catch((error: unknown) => message.error((error as Error).message));
  return (
    <main className="page">
      <div className="page-head">
        <div>
          <h1>Logbook</h1>
          <p className="quiet">
            {book.lines.length} boards, {hours.toFixed(1)} hours. Yours to take along; nobody is sent it.
          </p>
        </div>
        <span className="page-acts">
          <Button href="/api/calendar.ics">Due dates for a calendar</Button>
          <Button href="/api/logbook.csv">As CSV</Button>
          <Button type="primary" onClick={() => void pdf()}>
            As PDF, to be signed
          </Button>
        </span>
      </div>
      <Lines book={book} />
    </main>
  );
}

function Lines({ book }: { book: Logbook }) {
  return (
    <Table<LogbookLine>
      size="small"
      rowKey="attemptId"
      pagination={false}
      dataSource={[...book.lines]}
      locale={{ emptyText: <Empty image={null} description="No marks yet. Hand in a board." /> }}
      columns={[
        { title: 'Date', key: 'date', render: (_, one) => dayjs(one.date).format('D MMM YYYY') },
        {
          title: 'Exercise',
          key: 'exercise',
          render: (_, one) => <Link to={`/slip/${one.attemptId}`}>{one.exercise}</Link>,
        },
        { title: 'Board', dataIndex: 'board' },
        {
          title: 'Where',
          key: 'place',
          render: (_, one) => (one.place === 'bench' ? 'at the bench' : 'on the screen'),
        },
        {
          title: 'Class',
          key: 'class',
          render: (_, one) => [one.className, one.term].filter(Boolean).join(', '),
        },
        { title: 'Hours', key: 'hours', align: 'right', render: (_, one) => one.hours.toFixed(1) },
        {
          title: 'Points',
          key: 'points',
          align: 'right',
          render: (_, one) => (one.recorded === null ? '' : `${one.recorded} of ${one.max ?? ''}`),
        },
        {
          title: '',
          key: 'passed',
          render: (_, one) => (one.passed === null ? '' : one.passed ? '✓ passed' : '✕ not passed'),
        },
        { title: 'Instructor', dataIndex: 'instructor' },
      ]}
    />
  );
}
