import { useState } from 'react';
import { Alert, Button, Spin } from 'antd';
import { useQueryClient } from '@tanstack/react-query';
import {
  describeRungEdit,
  programSearchWords,
  type ProgramRepair,
  type Repair,
  type RepairEdit,
} from '@contactum/core';
import type { RepairView, Slip } from '@contactum/contract';
import { cancelRepair, isUnderWay, useRepair } from '../api/queries.js';
import { describeEdit } from './repair-view.js';

/**
 * The fewest edits that make the wiring pass: looked for when asked, all equally short ones listed, each
 * shown on the board.
 */
export function RepairSection({
  slip,
  onShow,
}: {
  slip: Slip;
  onShow: (repair: readonly RepairEdit[] | null) => void;
}) {
  const [asked, setAsked] = useState(false);
  const query = useRepair(slip.attempt.id, asked);
  const client = useQueryClient();
  const [chosen, setChosen] = useState<number | null>(null);
  const view = query.data;
  const underWay = asked && !query.isError && (!view || isUnderWay(view));
  const cancel = (): void => {
    setAsked(false);
    client.removeQueries({ queryKey: ['repair', slip.attempt.id] });
    void cancelRepair(slip.attempt.id);
  };
  const show = (k: number | null): void => {
    setChosen(k);
    onShow(k === null ? null : (view?.result?.repairs[k] ?? null));
  };
  return (
    <section aria-label="Repair">
      <h2>Repair</h2>
      {!asked && <Button onClick={() => setAsked(true)}>Find the fewest edits that make it pass</Button>}
      {underWay && (
        <div role="status">
          <Spin size="small" /> {progressOf(view)}{' '}
          <Button size="small" onClick={cancel}>
            Stop
          </Button>
        </div>
      )}
      {query.isError && <Alert type="error" showIcon title={query.error.message} />}
      {view?.state === 'failed' && (
        <Alert type="error" showIcon title="The search ended in an error. Ask again." />
      )}
      {view?.result && <Found repair={view.result} chosen={chosen} onChoose={show} />}
    </section>
  );
}

/** How far a search is, in words. */
function progressOf(view: RepairView | undefined): string {
  if (view?.state !== 'running')
    return view && view.before > 0
      ? `Waiting for ${view.before} other searches …`
      : 'The search is about to begin …';
  const tried = view.tried.toLocaleString('en-GB');
  return `Looking at wirings ${view.edits === 1 ? 'one edit' : `${view.edits} edits`} away; ${tried} looked at so far …`;
}

/** Changes of contacts in the rungs that would do. */
function InProgram({ program }: { program: ProgramRepair }) {
  const { controller, repairs, singles, pairs } = program;
  const count = repairs[0]?.length ?? 0;
  const isAll = count === 1 ? singles : pairs;
  return (
    <>
      <p>
        {count === 1 ? 'One change of a contact' : `${count} changes of contacts in one rung`} in the program
        of {controller} {count === 1 ? 'is' : 'are'} enough; the leads may stay.{' '}
        {isAll ? 'All ways:' : 'Ways that were found, there may be more:'}
      </p>
      <ol className="repairs">
        {repairs.map((edits) => {
          const words = edits.map(describeRungEdit).join('. ');
          return <li key={words}>{words}.</li>;
        })}
      </ol>
    </>
  );
}

function Found({
  repair: all,
  chosen,
  onChoose,
}: {
  repair: Repair;
  chosen: number | null;
  onChoose: (k: number | null) => void;
}) {
  const { found, repairs, more, searched, stopped, program } = all;
  if (program && program.repairs.length > 0) return <InProgram program={program} />;
  if (!found && program && searched === 0) return <p>{programSearchWords(program)}</p>;
  if (!found)
    return (
      <p>
        {stopped
          ? `The search was stopped. No repair of up to ${searched} edits was found; longer ones were not all tried.`
          : `No repair was found within ${searched} edits.`}
      </p>
    );
  const count = repairs[0]?.length ?? 0;
  if (count === 0) return <p>Nothing to repair: it behaves rightly and holds every safety property.</p>;
  return (
    <>
      <p>
        {count === 1 ? 'One edit is enough' : `${count} edits are enough; fewer were not found to do`}.{' '}
        {repairs.length === 1 && !more
          ? 'One way was found.'
          : `${more ? 'Some of the' : 'All'} ${repairs.length} ways${more ? '; there may be more' : ''}:`}
      </p>
      <ol className="repairs">
        {repairs.map((repair, k) => (
          <li key={k} data-shown={chosen === k ? 'yes' : undefined}>
            <button
              type="button"
              aria-pressed={chosen === k}
              onClick={() => onChoose(chosen === k ? null : k)}
            >
              {repair.map((edit) => describeEdit(edit)).join('. ')}.
            </button>
          </li>
        ))}
      </ol>
      <p className="quiet">
        Choose one to see it on the board: what goes is dashed, what comes is bright. A repair that passes
        here still has to be checked on the real board.
      </p>
    </>
  );
}
