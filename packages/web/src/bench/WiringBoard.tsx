import { useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import { plural, leadOf, type Bench } from '@contactum/core';
import { Board } from '../board/Board.js';
import type { Act } from '../board/Handle.js';
import type { LinkStore } from '../board/link.js';
import { useLayout } from '../board/use-layout.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';
import { useWiringKeys } from './use-wiring-keys.js';
import { useWiringPointer } from './use-wiring-pointer.js';
import { WiringHand } from './wiring-hand.js';
import { Overlay, Rings, Rubber } from './WiringSheet.js';

/** The board as it is wired: with the pointer (click and click, or drag) and with the keyboard. */
export function WiringBoard({
  store,
  live,
  act,
  marked,
  onSetting,
  announce,
  link,
  hung,
}: {
  store: BenchStore;
  live: LiveBench;
  act: Act;
  marked: readonly string[];
  onSetting: (tag: string) => void;
  announce: (text: string) => void;
  link: LinkStore;
  hung: boolean;
}) {
  const bench = useStore(store, (state) => state.bench);
  const from = useStore(store, (state) => state.from);
  const selected = useStore(store, (state) => state.selected);
  const moving = useStore(store, (state) => state.moving);
  const cursor = useStore(store, (state) => state.cursor);
  const layout = useLayout(bench);
  const { plan } = layout;
  const hand = useMemo(() => new WiringHand(store, live, plan, announce), [store, live, plan, announce]);
  const { onSvg, ...pointer } = useWiringPointer(store, hand);
  const onKeyDown = useWiringKeys(store, hand, announce);
  useChosenLead(store, link);
  const isLaying = from !== null || moving !== null;

  return (
    <Board
      bench={bench}
      layout={layout}
      link={link}
      busy={isLaying}
      hung={hung}
      zoomable
      live={live}
      act={act}
      marked={marked}
      selected={selected}
      label={labelOf(bench)}
      onSvg={onSvg}
      onSetting={onSetting}
      className={isLaying ? 'wiring laying' : 'wiring'}
      handlers={{ tabIndex: 0, ...pointer, onKeyDown }}
      overlay={<Overlay plan={plan} store={store} selected={selected} />}
      sheet={
        <>
          <Rings plan={plan} from={from} cursor={cursor} />
          <Rubber store={store} hand={hand} shown={isLaying} />
        </>
      }
    />
  );
}

/** A lead that is chosen anywhere lifts its potential in every view. */
function useChosenLead(store: BenchStore, link: LinkStore): void {
  const ref = useStore(store, ({ selected, bench }) =>
    selected === null ? null : (leadOf(bench, selected)?.from ?? null),
  );
  useEffect(() => {
    link.setState({ chosen: ref === null ? null : { kind: 'net', ref } });
  }, [ref, link]);
}

const labelOf = ({ wires }: Bench): string =>
  `Trainer board with ${plural(wires.length, 'lead')}. Arrow keys move between terminals, Enter lays a lead, ` +
  'L chooses a lead, M moves its end, Delete removes it.';
