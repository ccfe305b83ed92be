import { Alert, Spin, Table } from 'antd';
import { alphaWords, kappaWords, type Item } from '@contactum/core';
import type { LookBack } from '@contactum/contract';
import { useLookBack } from '../api/assessments.js';
import { SpreadRows } from '../marks/SpreadChart.js';

/** What the marks of a class tell of the tasks: how hard, how well they tell people apart, how surely. */
export function LookBackPane({ id }: { id: string }) {
  const back = useLookBack(id);
  if (back.isError) return <Alert type="error" showIcon title={back.error.message} />;
  if (!back.data) return <Spin className="waiting" />;
  const view = back.data;
  if (view.people === 0) return <p className="quiet">Nobody is fully marked yet.</p>;
  return (
    <div className="look-back">
      <p>
        {view.passed} of {view.people} passed. {reliability(view)}
      </p>
      {view.people < 10 && (
        <Alert
          type="info"
          showIcon
          title="With so few people these figures say little: read them as hints."
        />
      )}
      <h2>Spread</h2>
      <SpreadRows
        label="Spread of the marks by task, per cent"
        rows={[
          { id: 'whole', title: 'Total', marks: view.percents },
          ...view.tasks.map(({ id: task, title, percents }) => ({ id: task, title, marks: percents })),
        ]}
      />
      <h2>Tasks</h2>
      <Items
        rows={view.tasks.map(({ id: key, title, minutes }, k) => ({
          key,
          title,
          more: minutes.length > 0 ? `${Math.round(median(minutes))} min` : '–',
          item: view.byTask.items[k],
        }))}
      />
      <h2>Criteria</h2>
      <Items
        rows={view.criteria.map(({ task, title }, k) => ({
          key: `${task} ${title} ${k}`,
          title: `${task}: ${title}`,
          more: null,
          item: view.byCriterion.items[k],
        }))}
      />
      <Agreement view={view} />
    </div>
  );
}

const median = (values: readonly number[]): number =>
  values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

function reliability({ byCriterion: { alpha, error } }: LookBack): string {
  if (alpha === null || error === null) return 'Reliability cannot be calculated from these marks.';
  return (
    `Reliability (Cronbach’s α over all criteria) ${alpha.toFixed(2)}: ${alphaWords(alpha)}. ` +
    `Standard error of one person’s total: about ±${error.toFixed(1)} points.`
  );
}

interface ItemRow {
  readonly key: string;
  readonly title: string;
  /** Time that it took; null where that is not told. */
  readonly more: string | null;
  readonly item: Item | undefined;
}

function Items({ rows }: { rows: readonly ItemRow[] }) {
  const isTimed = rows.some(({ more }) => more !== null);
  return (
    <Table<ItemRow>
      size="small"
      rowKey="key"
      pagination={false}
      dataSource={[...rows]}
      columns={[
        { title: 'Item', dataIndex: 'title', rowScope: 'row' },
        {
          title: 'Facility',
          render: (_, { item }) => item && <Bar part={item.facility} />,
          sorter: (a, b) => (a.item?.facility ?? 0) - (b.item?.facility ?? 0),
        },
        {
          title: 'Discrimination',
          render: (_, { item }) => <span className="mono">{item?.discrimination?.toFixed(2) ?? '–'}</span>,
          sorter: (a, b) => (a.item?.discrimination ?? -2) - (b.item?.discrimination ?? -2),
        },
        ...(isTimed ? [{ title: 'Time, median', dataIndex: 'more' }] : []),
        {
          title: 'Note',
          render: (_, { item }) =>
            item?.weakness ? (
              <strong className="tells-little">Little: {item.weakness}</strong>
            ) : (
              <span className="quiet">–</span>
            ),
        },
      ]}
    />
  );
}

/** A part as a bar with its per cent. */
function Bar({ part }: { part: number }) {
  return (
    <span className="facility">
      <span className="facility-bar">
        <span style={{ width: `${100 * part}%` }} />
      </span>
      <span className="mono">{Math.round(100 * part)} %</span>
    </span>
  );
}

function Agreement({ view: { agreement, agreementInAll } }: { view: LookBack }) {
  if (agreementInAll.both === 0) return null;
  const words = (kappa: number | null) =>
    kappa === null ? '–' : `${kappa.toFixed(2)} (${kappaWords(kappa)})`;
  const rows = [
    ...agreement
      .filter(({ of }) => of.both > 0)
      .map(({ task, criterion, of }) => ({ title: `${task}: ${criterion}`, of })),
    { title: 'All criteria', of: agreementInAll },
  ];
  return (
    <>
      <h2>Two examiners</h2>
      <Table
        size="small"
        rowKey="title"
        pagination={false}
        dataSource={rows}
        columns={[
          { title: 'Criterion', dataIndex: 'title', rowScope: 'row' },
          { title: 'Judged by two', render: (_, { of }) => of.both },
          { title: 'Same level', render: (_, { of }) => `${Math.round(100 * of.same)} %` },
          { title: 'Cohen’s κ', render: (_, { of }) => words(of.kappa) },
          {
            title: 'Second − first',
            render: (_, { of }) => `${of.difference > 0 ? '+' : ''}${of.difference.toFixed(2)} levels`,
          },
        ]}
      />
    </>
  );
}
