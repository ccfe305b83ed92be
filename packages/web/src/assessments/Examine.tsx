import { useState } from 'react';
import { Alert, Button, Input, Modal, Radio, Select, Spin } from 'antd';
import type { ObservedCriterion } from '@contactum/core';
import type { AssessmentForInstructor, JudgedCriterion, Person, SittingRow } from '@contactum/contract';
import { useVault } from '../api/queries.js';
import type { Vault } from '../api/vault.js';
import { usePending } from './pending.js';
import { useActs } from './use-acts.js';
import '../classes/classes.css';

/** Where a criterion of somebody's work stands. */
interface Where {
  readonly student: string;
  readonly task: string;
  readonly criterion: ObservedCriterion;
  readonly judged: JudgedCriterion;
}

/** An examiner at the benches: one student at a time, the levels of what is watched. */
export function Examine({ view, person }: { view: AssessmentForInstructor; person: Person }) {
  const vault = useVault(person.id);
  if (vault === undefined) return <Spin className="waiting" />;
  return <AtBenches view={view} vault={vault} />;
}

function AtBenches({ view, vault }: { view: AssessmentForInstructor; vault: Vault | null }) {
  const sat = view.sittings.filter(({ startedAt, voided }) => startedAt !== null && voided === null);
  const [chosen, setChosen] = useState<string | null>(null);
  const row = sat.find(({ student }) => student.id === chosen) ?? sat[0];
  const pending = usePending(view.id, vault);
  if (!row) return <p className="quiet">Nobody has started yet.</p>;
  const at = sat.indexOf(row);
  return (
    <div className="examine">
      {pending.count > 0 && (
        <Alert
          type="warning"
          showIcon
          title={`${pending.count} not sent yet: kept in this browser, and sent when the network is back.`}
        />
      )}
      <div className="examine-who">
        <Button disabled={at === 0} onClick={() => setChosen(sat[at - 1]?.student.id ?? null)}>
          Previous
        </Button>
        <Select
          aria-label="Student"
          value={row.student.id}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ width: 280 }}
          options={sat.map((one) => ({
            value: one.student.id,
            label: `${one.student.name}${doneWords(one)}`,
          }))}
          onChange={setChosen}
        />
        <Button disabled={at === sat.length - 1} onClick={() => setChosen(sat[at + 1]?.student.id ?? null)}>
          Next
        </Button>
      </div>
      {view.tasks.map((task) =>
        task.kind === 'observed' ? (
          <section key={task.id}>
            <h2>{task.title}</h2>
            {task.criteria.map((criterion) => {
              const judged = row.judged.find((one) => one.task === task.id && one.criterion === criterion.id);
              return (
                judged && (
                  <Criterion
                    key={`${row.student.id} ${criterion.id}`}
                    where={{ student: row.student.id, task: task.id, criterion, judged }}
                    view={view}
                    pending={pending}
                  />
                )
              );
            })}
          </section>
        ) : null,
      )}
    </div>
  );
}

function doneWords({ judged }: SittingRow): string {
  const mine = judged.filter((one) => one.mine !== null).length;
  return mine === judged.length ? ' ✓' : ` (${mine} of ${judged.length})`;
}

function Criterion({
  where,
  view,
  pending,
}: {
  where: Where;
  view: AssessmentForInstructor;
  pending: ReturnType<typeof usePending>;
}) {
  const { criterion, judged } = where;
  const waiting = pending.levelOf(where.student, where.task, criterion.id);
  const isShut = view.signedOff !== null;
  const titleOf = (level: number) => criterion.levels[level]?.title ?? '';
  return (
    <div className="criterion" data-differs={differs(judged) ? 'yes' : undefined}>
      <p>
        {criterion.title} {criterion.critical && <strong className="critical">critical</strong>}
      </p>
      <Radio.Group
        aria-label={criterion.title}
        optionType="button"
        disabled={isShut}
        value={waiting ?? judged.mine}
        options={criterion.levels.map(({ title, points }, level) => ({
          value: level,
          label: `${title} (${points})`,
        }))}
        onChange={({ target }) =>
          pending.put({
            student: where.student,
            task: where.task,
            criterion: criterion.id,
            level: target.value as number,
            note: judged.note,
          })
        }
      />
      {judged.mine === null && judged.others > 0 && (
        <span className="quiet">Another examiner has judged it; you see what after judging it yourself.</span>
      )}
      {judged.theirs.map(({ by, level }) => (
        <span key={by} className="quiet">
          {by}: {titleOf(level)}
        </span>
      ))}
      {differs(judged) && !isShut && <Agree where={where} view={view} />}
      {judged.agreed && (
        <span>
          Agreed: <strong>{titleOf(judged.agreed.level)}</strong> ({judged.agreed.by}: {judged.agreed.reason})
        </span>
      )}
    </div>
  );
}

const differs = ({ mine, theirs, agreed }: JudgedCriterion): boolean =>
  agreed === null && mine !== null && theirs.some(({ level }) => level !== mine);

/** What two examiners who differ have agreed on, and why. */
export function Agree({
  where,
  view,
  act = 'agree',
}: {
  where: Where;
  view: AssessmentForInstructor;
  act?: 'agree' | 'correct';
}) {
  const { go, isPending } = useActs(view.id);
  const [isOpen, setOpen] = useState(false);
  const [level, setLevel] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const { criterion, student, task } = where;
  const settle = () => {
    if (level === null) return;
    const body = { student, task, criterion: criterion.id, level, reason };
    go({ act, body }, () => setOpen(false));
  };
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        {act === 'agree' ? 'Examiners differ: agree on one' : 'Correct the level'}
      </Button>
      {isOpen && (
        <Modal
          open
          title={criterion.title}
          okText={act === 'agree' ? 'Agreed' : 'Correct'}
          okButtonProps={{ disabled: level === null || reason.trim().length < 3 }}
          confirmLoading={isPending}
          onCancel={() => setOpen(false)}
          onOk={settle}
        >
          <Radio.Group
            aria-label="Level"
            value={level}
            options={criterion.levels.map(({ title, points }, k) => ({
              value: k,
              label: `${title} (${points})`,
            }))}
            onChange={({ target }) => setLevel(target.value as number)}
          />
          <label className="setting-row">
            <span>Reason</span>
            <Input
              aria-label="Reason"
              value={reason}
              maxLength={500}
              onChange={({ target }) => setReason(target.value)}
            />
          </label>
        </Modal>
      )}
    </>
  );
}
