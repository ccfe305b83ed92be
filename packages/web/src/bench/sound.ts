import { useEffect, useState } from 'react';
import type { TraceEvent } from '@contactum/core';
import type { LiveBench } from './live.js';

const KEY = 'contactum.sound';

/** The clack of one armature: a short burst of filtered noise, deeper as it lets go. */
function clack(audio: AudioContext, isIn: boolean): void {
  const seconds = 0.05;
  const buffer = audio.createBuffer(1, Math.ceil(audio.sampleRate * seconds), audio.sampleRate);
  const samples = buffer.getChannelData(0);
  // A noise that is the same each time: no two contactors of a board need to differ.
  let seed = isIn ? 1 : 2;
  for (let k = 0; k < samples.length; k += 1) {
    seed = (seed * 16_807) % 2_147_483_647;
    samples[k] = ((seed / 2_147_483_647) * 2 - 1) * (1 - k / samples.length) ** 6;
  }
  const source = new AudioBufferSourceNode(audio, { buffer });
  const filter = new BiquadFilterNode(audio, { type: 'bandpass', frequency: isIn ? 900 : 620, Q: 1.2 });
  source
    .connect(filter)
    .connect(new GainNode(audio, { gain: 0.5 }))
    .connect(audio.destination);
  source.start();
}

const isArmature = ({ state }: TraceEvent): boolean => state === 'in' || state === 'out';

/** Contactors are heard while it is asked for; off at first. */
export function useSound(live: LiveBench): { readonly isOn: boolean; readonly toggle: () => void } {
  const [isOn, setOn] = useState(() => localStorage.getItem(KEY) === 'on');
  useEffect(() => {
    localStorage.setItem(KEY, isOn ? 'on' : 'off');
    if (!isOn) return undefined;
    const audio = new AudioContext();
    let heard = live.store.getState().events.length;
    const stop = live.store.subscribe(({ events }) => {
      for (const event of events.slice(heard)) if (isArmature(event)) clack(audio, event.state === 'in');
      heard = events.length;
    });
    return () => {
      stop();
      void audio.close();
    };
  }, [isOn, live]);
  return { isOn, toggle: () => setOn((now) => !now) };
}
