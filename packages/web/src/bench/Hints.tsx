import { useState } from 'react';
import { Alert, Button, Modal } from 'antd';
import { BulbOutlined } from '@ant-design/icons';
import { useStore } from 'zustand';
import { plural, type HintDegree } from '@contactum/core';
import type { AttemptView, HintTaken } from '@contactum/contract';
import { useHints, useTakeHint } from '../api/queries.js';
import { placeMark, type LinkStore } from '../board/link.js';
import type { BenchStore } from './store.js';

/** What a hint of a degree tells. */
export const HINT_WORDS: Readonly<Record<HintDegree, string>> = {
  symptom: 'What goes wrong',
  net: 'Where to look',
  lead: 'Which lead',
};

const costWords = (points: number): string => (points === 0 ? 'free' : `costs ${plural(points, 'point')}`);

/** Hints by degree, where the exercise gives them: what was told so far, and the next one with its price. */
export function Hints({ view, store, link }: { view: AttemptView; store: BenchStore; link: LinkStore }) {
  const [open, setOpen] = useState(false);
  if (!view.exercise.hints) return null;
  return (
    <>
      <Button icon={<BulbOutlined />} onClick={() => setOpen(true)}>
        Hint
      </Button>
      <Modal
        title="Hints"
        mask={false}
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
        destroyOnHidden
      >
        <HintList id={view.attempt.id} store={store} link={link} />
      </Modal>
    </>
  );
}

function HintList({ id, store, link }: { id: string; store: BenchStore; link: LinkStore }) {
  const saved = useStore(store, (state) => state.unsaved === 0);
  const hints = useHints(id, saved);
  const take = useTakeHint(id);
  const error = take.error ?? hints.error;
  if (!hints.data) return error ? <Alert type="error" showIcon title={error.message} /> : null;
  const { taken, next, costs } = hints.data;
  const show = (places: readonly string[]) => link.setState(placeMark(places));
  return (
    <div className="hints">
      {taken.length === 0 && (
        <p>
          A hint is for the wiring as it is now: first what goes wrong, then where to look, then which lead.
          What hints cost is taken off the score.
        </p>
      )}
      <TakenHints taken={taken} />
      {next === null ? (
        <p className="quiet">Every hint for this wiring is given. Change it, and there are others.</p>
      ) : (
        <Button
          type="primary"
          loading={take.isPending}
          disabled={!saved}
          onClick={() => take.mutate(next, { onSuccess: (after) => show(after.taken.at(-1)?.places ?? []) })}
        >
          {HINT_WORDS[next]} ({costWords(costs[next])})
        </Button>
      )}
      {error && <Alert type="info" showIcon title={error.message} />}
    </div>
  );
}

/** Hints that were taken, in their order. */
export function TakenHints({ taken }: { taken: readonly HintTaken[] }) {
  return (
    <ol className="hints-taken">
      {taken.map(({ degree, text, cost, at }) => (
        <li key={`${at} ${degree}`}>
          <strong>{HINT_WORDS[degree]}</strong> <span className="quiet">{costWords(cost)}</span>
          <p>{text}</p>
        </li>
      ))}
    </ol>
  );
}
