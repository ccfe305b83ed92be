import { Alert, Button, Modal } from 'antd';
import { useStore } from 'zustand';
import { useHints, useTakeHint } from '../api/queries.js';
import { placeMark, type LinkStore } from '../board/link.js';
import { HINT_WORDS, TakenHints, costWords } from './TakenHints.js';
import type { BenchStore } from './store.js';

interface Given {
  readonly id: string;
  readonly store: BenchStore;
  readonly link: LinkStore;
}

/** What was told so far, and the next hint with its price, over the board that it speaks of. */
export function HintsDialog({ onClose, ...given }: Given & { onClose: () => void }) {
  return (
    <Modal title="Hints" mask={false} open onCancel={onClose} footer={null}>
      <HintList {...given} />
    </Modal>
  );
}

function HintList({ id, store, link }: Given) {
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
          A hint is for the board as it is now: first what goes wrong, then where to look, then what to
          change. What hints cost is taken off the score.
        </p>
      )}
      <TakenHints taken={taken} />
      {next === null ? (
        <p className="quiet">Every hint for this board is given. Change it, and there are others.</p>
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
