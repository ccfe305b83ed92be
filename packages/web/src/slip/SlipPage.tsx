import { useState } from 'react';
import { Alert, Button, Spin } from 'antd';
import dayjs from 'dayjs';
import { Link, useParams } from 'react-router';
import {
  PARTS,
  describeProof,
  isAsked,
  plural,
  propertyTitle,
  type Criterion,
  type Part,
  type RepairEdit,
  type Report,
} from '@contactum/core';
import type { Person, Slip } from '@contactum/contract';
import { useSlip } from '../api/queries.js';
import { capital } from '../bench/store.js';
import { ChangePoints } from './ChangePoints.js';
import { CriterionRow } from './CriterionRow.js';
import { Confirm } from './Confirm.js';
import { Equivalence } from './Equivalence.js';
import { TakenHints } from '../bench/TakenHints.js';
import { Remarks } from './Remarks.js';
import { Physical } from './Physical.js';
import { RepairSection } from './RepairSection.js';
import { Replay, type Proof } from './Replay.js';
import { ToleranceTable } from './ToleranceTable.js';
import { Unmarked } from './Unmarked.js';
import { Version } from './Version.js';
import { SearchReport } from '../faults/SearchReport.js';
import './slip.css';

const TITLES: Readonly<Record<Part, string>> = {
  behaviour: 'Behaviour',
  safety: 'Safety',
  rules: 'House rules',
  workmanship: 'Workmanship',
};

/** The parts of a search for faults. */
const SEARCH_TITLES: Readonly<Record<(typeof PARTS)[number], string>> = {
  behaviour: 'Cause, place and repair',
  safety: 'Safety',
  rules: 'Way of searching',
  workmanship: 'Economy',
};

/** One attempt: every point, why each lost one was lost, and its proof played on the board. */
export function SlipPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const query = useSlip(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const slip = query.data;
  return slip.report ? (
    <MarkedSlip slip={slip} report={slip.report} person={person} />
  ) : (
    <Unmarked slip={slip} person={person} />
  );
}

/** True where the mark rests on the proof of a wiring: not on a search, a physical board or answers. */
const isProved = ({ exercise, report }: Slip): boolean =>
  !report?.search && !report?.physical && !isAsked(exercise);

/** What the board beside the slip shows: a proof, a repair, or the wiring alone. */
interface Shown {
  readonly proof: Proof | null;
  readonly repair: readonly RepairEdit[] | null;
}

function MarkedSlip({ slip, report, person }: { slip: Slip; report: Report; person: Person }) {
  const [shown, setShown] = useState<Shown>({ proof: null, repair: null });
  const { proof, repair } = shown;
  const onProof = (next: Proof | null): void => setShown({ proof: next, repair });
  return (
    <main className="slip">
      <section className="slip-list">
        <Head slip={slip} person={person} />
        <Verdict slip={slip} report={report} />
        {slip.attempt.unconfirmed && <Confirm slip={slip} person={person} />}
        {isProved(slip) && <Equivalence report={report} onProof={onProof} />}
        {report.physical && <Physical attemptId={slip.attempt.id} findings={report.physical} />}
        <Criteria slip={slip} report={report} person={person} shown={proof?.key ?? ''} onProof={onProof} />
        {report.search && <SearchReport findings={report.search} />}
        <Lessons report={report} onProof={onProof} />
        <ToleranceTable report={report} shown={proof?.key ?? ''} onProof={onProof} />
        {slip.mayRepair && !report.search && !report.physical && (
          <RepairSection slip={slip} onShow={(next) => setShown({ proof: null, repair: next })} />
        )}
        {slip.hints.length > 0 && (
          <section aria-label="Hints taken">
            <h2>Hints taken</h2>
            <TakenHints taken={slip.hints} />
          </section>
        )}
        <Remarks slip={slip} person={person} />
        <Version slip={slip} report={report} person={person} />
      </section>
      <Replay slip={slip} proof={proof} repair={proof ? null : repair} onClose={() => onProof(null)} />
    </main>
  );
}

function Head({ slip, person }: { slip: Slip; person: Person }) {
  const isInstructor = person.role !== 'student';
  return (
    <>
      <p className="crumb">
        {isInstructor ? (
          <Link to={`/marks/${slip.classId}`}>{slip.className}</Link>
        ) : (
          <Link to="/exercises">Exercises</Link>
        )}
      </p>
      <h1>{slip.exercise.title}</h1>
      <p className="quiet">
        {slip.student.name} · attempt {slip.attempt.number} · handed in{' '}
        {dayjs(slip.attempt.handedInAt).format('D MMM YYYY, HH:mm')}
      </p>
      {isInstructor &&
        !slip.report?.search &&
        !isAsked(slip.exercise) &&
        (slip.report?.physical?.wiringEntered ?? true) && (
          <p>
            <Link to={`/compare/${slip.attempt.id}`}>Beside the reference</Link> ·{' '}
            <Link to={`/paper/wired/${slip.attempt.id}`}>Planning paper of this wiring</Link>
          </p>
        )}
      {isInstructor && slip.report && (
        <p>
          <a href={`/api/attempts/${slip.attempt.id}/pack.zip`} download>
            Evidence pack
          </a>{' '}
          <span className="quiet">signed: slip, work, log, drawing and exercise in one file</span>
        </p>
      )}
    </>
  );
}

/** The mark that counts, and how it came about. */
function Verdict({ slip, report }: { slip: Slip; report: Report }) {
  const { score, recorded, max, passed, reason, changed } = slip.result ?? { ...report, changed: false };
  return (
    <>
      <div className={`verdict ${slip.attempt.unconfirmed ? 'unconfirmed' : passed ? 'passed' : 'failed'}`}>
        <span className="score">
          {recorded}
          <small> of {max}</small>
        </span>
        <span>
          <strong>{slip.attempt.unconfirmed ? 'Unconfirmed' : passed ? 'Passed' : 'Not passed'}</strong>
          {reason !== null && <span className="verdict-reason">: {reason}</span>}
          {changed && <span> · marker gave {report.score}</span>}
        </span>
      </div>
      {recorded < score && (
        <p className="quiet">
          {score} points were earned. What has not passed is recorded with at most {recorded}, one under the
          pass mark of {report.pass}.
        </p>
      )}
      {report.share < 1 && !isAsked(slip.exercise) && (
        <p className="quiet">
          Safety, house rules and workmanship count at {Math.round(report.share * 1000) / 10} %, the share
          that was earned of the behaviour.
        </p>
      )}
      {report.hints && (
        <p className="quiet">
          {plural(report.hints.taken.length, 'hint')} taken: {plural(report.hints.cost, 'point')} taken off.
        </p>
      )}
      {isProved(slip) && <p className="quiet">{capital(describeProof(report.proof))}.</p>}
    </>
  );
}

/** Every criterion under its part; an instructor changes points here. */
function Criteria({
  slip,
  report,
  person,
  shown,
  onProof,
}: {
  slip: Slip;
  report: Report;
  person: Person;
  shown: string;
  onProof: (proof: Proof) => void;
}) {
  const [changing, setChanging] = useState<Criterion | null>(null);
  const mayChange = person.role !== 'student';
  const titles = report.search
    ? SEARCH_TITLES
    : isAsked(slip.exercise)
      ? { ...TITLES, behaviour: 'Answers' }
      : TITLES;
  return (
    <>
      {PARTS.map((part) => {
        const list = report.criteria.filter((criterion) => criterion.part === part);
        return list.length === 0 ? null : (
          <section key={part} aria-label={titles[part]}>
            <h2>{titles[part]}</h2>
            <ul className="criteria">
              {list.map((criterion) => (
                <CriterionRow
                  key={criterion.id}
                  criterion={criterion}
                  slip={slip}
                  shown={`${shown} `.startsWith(`${part} ${criterion.id} `)}
                  onProof={onProof}
                  onChange={mayChange ? () => setChanging(criterion) : undefined}
                />
              ))}
            </ul>
          </section>
        );
      })}
      {changing && <ChangePoints slip={slip} criterion={changing} onClose={() => setChanging(null)} />}
    </>
  );
}

/**
 * Properties that this board is meant to break: what it teaches, with the sequence that shows it. They cost
 * nothing.
 */
function Lessons({ report, onProof }: { report: Report; onProof: (proof: Proof) => void }) {
  const broken = report.properties.filter(({ lesson, holds }) => lesson && !holds);
  if (broken.length === 0) return null;
  return (
    <section aria-label="What this board teaches">
      <h2>What this board teaches</h2>
      <p className="quiet">
        It is built to break this. It costs no points; on a real board it would be condemned.
      </p>
      <ul className="must">
        {broken.map(({ id, found, trace }) => (
          <li key={id}>
            {propertyTitle(id)}: {found}{' '}
            <Button
              size="small"
              onClick={() =>
                onProof({ key: `lesson ${id}`, title: propertyTitle(id), steps: trace, found, where: [] })
              }
            >
              Show it
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
