import { useEffect, useMemo, useRef, useState } from 'react';
import { Button, Segmented, Select } from 'antd';
import { useStore } from 'zustand';
import type { Doable } from '../../board/doables.js';
import type { Act } from '../../board/Handle.js';
import type { LiveBench } from '../live.js';
import { doneIn, predictableOn, predictedOf, WORDS, type Predicted } from './predicting.js';
import type { ViewProps } from './view-props.js';
import './predict.css';

/** What a board has done by then is compared: armatures have moved, timers have not run out, ms. */
const SETTLED = 700;

/** A prediction that was put to the board. */
interface Tried {
  readonly label: string;
  readonly rows: readonly {
    readonly tag: string;
    readonly said: string;
    readonly does: string;
    readonly why: string | null;
  }[];
}

/** Does what was chosen, and compares what the board has done with what was said. */
function useTrial(
  live: LiveBench,
  act: Act,
  rows: readonly Predicted[],
  said: Readonly<Record<string, string>>,
  onDone: () => void,
) {
  const [tried, setTried] = useState<Tried | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const put = ({ stimulus, label: what }: Doable) => {
    act.give(stimulus);
    timer.current = setTimeout(() => {
      const { frame, shape } = live.store.getState();
      if (!frame || !shape) return;
      void Promise.all(
        rows.map(async ({ tag }) => {
          const does = doneIn(frame, shape, tag);
          const why = does === said[tag] ? null : ((await live.explain(tag))?.sentence ?? null);
          return { tag, said: said[tag] ?? '', does, why };
        }),
      ).then((compared) => {
        setTried({ label: what, rows: compared });
        onDone();
      });
    }, SETTLED);
  };
  return { tried, put };
}

/** First say what each coil, lamp and motor will do, then do it: each is compared with what the board does. */
export function PredictPane({ kit: { live, store }, act }: ViewProps) {
  const devices = useStore(store, (state) => state.bench.devices);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const doables = useMemo(() => predictableOn(devices), [devices]);
  const rows = useMemo(() => predictedOf(devices), [devices]);
  const [label, setLabel] = useState<string | undefined>(undefined);
  const [said, setSaid] = useState<Readonly<Record<string, string>>>({});
  const chosen = doables.find((one) => one.label === label);
  const isWhole = rows.every(({ tag }) => said[tag] !== undefined);

  const { tried, put } = useTrial(live, act, rows, said, () => setSaid({}));

  return (
    <div className="predict-pane">
      <p className="quiet">Say what the board will do, then do it and compare.</p>
      <Select
        aria-label="What is done"
        placeholder="What is done …"
        value={label}
        options={doables.map((one) => ({ value: one.label, label: one.label }))}
        onChange={setLabel}
      />
      <ul>
        {rows.map(({ tag, words }) => (
          <li key={tag}>
            <span className="tag">{tag}</span>
            <Segmented
              size="small"
              aria-label={`${tag} will be`}
              value={said[tag] ?? ''}
              options={words.map((word) => ({ value: word, label: WORDS[word] ?? word }))}
              onChange={(word: string) => setSaid((before) => ({ ...before, [tag]: word }))}
            />
          </li>
        ))}
      </ul>
      {!supplyOn && <p className="quiet">Switch the supply on first.</p>}
      <Button
        type="primary"
        disabled={!supplyOn || !chosen || !isWhole}
        onClick={() => chosen && put(chosen)}
      >
        Do it and compare
      </Button>
      {tried && <Compared tried={tried} />}
    </div>
  );
}

function Compared({ tried: { label, rows } }: { tried: Tried }) {
  const right = rows.filter(({ said, does }) => said === does).length;
  const word = (one: string) => WORDS[one] ?? one;
  return (
    <section aria-live="polite" className="predict-compared">
      <h3>
        {label}: {right} of {rows.length} as you said
      </h3>
      <ul>
        {rows.map(({ tag, said, does, why }) => (
          <li key={tag} data-right={said === does ? 'yes' : 'no'}>
            <span aria-hidden="true">{said === does ? '✓' : '✕'}</span>
            <div>
              <span className="tag">{tag}</span>{' '}
              {said === does ? word(does) : `${word(does)}, not ${word(said)}`}
              {why !== null && <p className="quiet">{why}</p>}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
