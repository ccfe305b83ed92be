import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { anatomy, type Device, type Explanation } from '@contactum/core';
import type { LinkStore } from '../board/link.js';
import type { LiveBench } from './live.js';
import './why.css';

/** How soon after the board has changed the sentence follows, ms. */
const AGAIN = 200;

/** True of what has a coil, a lamp or a motor. */
const canBeTold = (device: Device): boolean => {
  const { coils, sensors, lamps, motor } = anatomy(device);
  return coils.length + sensors.length + lamps.length > 0 || motor !== undefined;
};

/** Terminals of the contacts that an explanation names, and of what a path leads to. */
function refsOf({ path, blocks }: Explanation, device: Device): string[] {
  const contacts = (path ?? blocks ?? []).flatMap((place) => {
    const [tag = '', name = ''] = place.split(':');
    return name.split('-').map((end) => `${tag}:${end}`);
  });
  const { coils, sensors, lamps } = anatomy(device);
  const ends = path ? [...coils, ...sensors, ...lamps].flatMap(({ a, b }) => [a, b]) : [];
  return [...contacts, ...ends.map((end) => `${device.tag}:${end}`)];
}

/** Asks the bench, again where a frame of it has come since, and lights what the answer names. */
function useWhy(live: LiveBench, link: LinkStore, device: Device | undefined): Explanation | null {
  const tag = device?.tag;
  const [why, setWhy] = useState<Explanation | null>(null);
  useEffect(() => {
    setWhy(null);
    link.setState({ why: null });
    if (!device || tag === undefined) return undefined;
    let gone = false;
    const ask = () =>
      live.explain(tag).then(
        (answer) => {
          if (gone) return;
          setWhy((before) => (before?.sentence === answer?.sentence ? before : answer));
          const refs = answer ? refsOf(answer, device) : [];
          if (link.getState().why?.refs.join() !== refs.join())
            link.setState({ why: answer ? { tag, refs } : null });
        },
        // What has happened to the bench is told over the board.
        () => undefined,
      );
    void ask();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const askSoon = () => {
      timer ??= setTimeout(() => {
        timer = undefined;
        void ask();
      }, AGAIN);
    };
    // A board at rest sends no frames: then nothing is asked either.
    const unfollow = live.store.subscribe(({ frame }, before) => {
      if (frame !== before.frame) askSoon();
    });
    return () => {
      gone = true;
      unfollow();
      clearTimeout(timer);
      link.setState({ why: null });
    };
    // A device is another object with each lead that is laid; what is asked about is its designation.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [live, link, tag]);
  return why;
}

/** Why a coil, a lamp or a motor is as it is: of the device that is pointed at, else of the one that is chosen. */
export function WhyStrip({
  live,
  link,
  devices,
}: {
  live: LiveBench;
  link: LinkStore;
  devices: readonly Device[];
}) {
  const tags = devices.filter(canBeTold).map(({ tag }) => tag);
  const [kept, setKept] = useState<string | null>(null);
  const pointed = useStore(link, (state) => (state.pointed?.kind === 'device' ? state.pointed.tag : null));
  const tag = pointed !== null && tags.includes(pointed) ? pointed : kept;
  const why = useWhy(
    live,
    link,
    devices.find((one) => one.tag === tag),
  );
  const choose = (next: string | null) => {
    setKept(next);
    link.setState({ chosen: next === null ? null : { kind: 'device', tag: next } });
  };
  if (tags.length === 0) return null;
  return (
    <div className="why-strip">
      <select
        className="plain-select"
        aria-label="Explain a device"
        value={tag ?? ''}
        onChange={({ target }) => choose(target.value || null)}
      >
        <option value="">Why …</option>
        {tags.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </select>
      <p className={why ? 'why-says' : 'why-says quiet'} data-why={why?.of}>
        {why?.sentence ?? 'Point at a designation, or choose one: what holds it in, or what keeps it out.'}
      </p>
    </div>
  );
}
