import { useState } from 'react';
import { Button, Spin } from 'antd';
import { useStore } from 'zustand';
import type { NotebookLine, SearchView } from '@contactum/contract';
import { useCauses } from '../api/queries.js';
import type { RemoteBench } from './remote.js';

/** Minutes and seconds of a bench's clock. */
export const clock = (t: number): string =>
  `${Math.floor(t / 60)}:${String(Math.floor(t % 60)).padStart(2, '0')}`;

const isReading = ({ kind }: NotebookLine): boolean => kind === 'read' || kind === 'look';

/**
 * What was done and read, the last first; and, where the exercise tells it, which causes are still
 * possible.
 */
export function Notebook({ view, live }: { view: SearchView; live: RemoteBench }) {
  const notes = useStore(live.remote, (state) => state.notes);
  const [only, setOnly] = useState(false);
  const shown = (only ? notes.filter(isReading) : notes).toReversed();
  return (
    <div className="notebook">
      {view.tellsCauses && <CausesBox id={view.id} after={notes.length} />}
      <div className="notebook-head">
        <h2>Notebook</h2>
        <Button size="small" type="text" aria-pressed={only} onClick={() => setOnly(!only)}>
          {only ? 'Show everything' : 'Readings only'}
        </Button>
      </div>
      {shown.length === 0 ? (
        <p className="quiet">Nothing recorded yet. Switch on and operate the board.</p>
      ) : (
        <ol className="notes" reversed>
          {shown.map((line, k) => (
            <li key={shown.length - k} data-kind={line.kind}>
              <span className="mono quiet">{clock(line.t)}</span> {line.text}
              {line.verdict && <VerdictWord verdict={line.verdict} />}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

const VERDICTS = {
  right: '✓ that is it',
  place: '~ the right place, another cause',
  wrong: '✗ that is not it; the work goes on',
} as const;

function VerdictWord({ verdict }: { verdict: keyof typeof VERDICTS }) {
  return <strong className={`verdict-word ${verdict}`}> {VERDICTS[verdict]}</strong>;
}

/** Causes that agree with everything so far; worked out only when it is asked for. */
function CausesBox({ id, after }: { id: string; after: number }) {
  const [asked, setAsked] = useState<number | null>(null);
  const causes = useCauses(id, asked);
  const isOld = asked !== null && asked !== after;
  const list = causes.data?.left ?? [];
  return (
    <section className="causes" aria-label="Causes still possible">
      <div className="notebook-head">
        <h2>{causes.data ? `${list.length} of ${causes.data.of} causes left` : 'Causes still possible'}</h2>
        <Button size="small" loading={causes.isFetching} onClick={() => setAsked(after)}>
          {asked === null ? 'Work them out' : isOld ? 'Work out again' : 'Up to date'}
        </Button>
      </div>
      {causes.isError && <p className="quiet">{causes.error.message}</p>}
      {causes.isFetching && !causes.data && <Spin size="small" />}
      {causes.data && (
        <>
          <ul className="cause-list" data-old={isOld ? 'yes' : undefined}>
            {list.slice(0, 12).map((title) => (
              <li key={title}>{title}</li>
            ))}
          </ul>
          {list.length > 12 && <p className="quiet">and {list.length - 12} more</p>}
          {list.length === 0 && <p className="quiet">No single cause explains it all.</p>}
        </>
      )}
    </section>
  );
}
