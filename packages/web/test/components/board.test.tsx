import { expect, jest, test } from '@jest/globals';
import { act, screen } from '@testing-library/react';
import { LiveBench, referenceBench, type Frame, type Shape } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import type { AttemptView, Person } from '@contactum/contract';
import { createStore } from 'zustand/vanilla';
import { Painter } from '../../src/board/painter.js';
import { createLiveStore, type LiveBench as PageBench } from '../../src/bench/live.js';
import { DeadTests } from '../../src/bench/practice.js';
import type { BenchStore } from '../../src/bench/store.js';
import { Shell } from '../../src/shell/Shell.js';
import { answer, sent, show } from './stage.js';

const pump = shippedExercise('brine-pump-three-wire')!;
const board = referenceBench(pump);

const SVG = 'http://www.w3.org/2000/svg';

/** A motor as the board draws it, with what has been written to it. */
function drawnMotor() {
  const root = document.createElementNS(SVG, 'svg');
  root.innerHTML = '<g data-device="M1"><g data-shaft></g><text data-text></text></g>';
  const group = root.querySelector('[data-device]')!;
  const written = { texts: 0, attributes: 0 };
  const observer = new MutationObserver((records) => {
    for (const { type, attributeName } of records)
      if (type === 'childList') written.texts += 1;
      else if (attributeName !== 'style') written.attributes += 1;
  });
  observer.observe(root, { subtree: true, childList: true, attributes: true });
  return { root, group, written, text: () => root.querySelector('[data-text]')!.textContent };
}

test('a speed is written as often as it can be read, and standing still at once', async () => {
  window.matchMedia = (() => ({ matches: true })) as never;
  // The document of the tests has no CSS of its own.
  globalThis.CSS = { escape: (text: string) => text.replace(/[^\w-]/g, '\\$&') } as never;
  const live = new LiveBench();
  live.load(board, { supplyOn: true, fresh: true });
  const { root, group, written, text } = drawnMotor();
  const painter = new Painter(root, live.shape as Shape, () => []);
  const go = async (seconds: number) => {
    let last: Frame | null = null;
    for (let k = 0; k < seconds * 30; k += 1) {
      live.advance(1 / 30);
      last = live.frame();
      if (last) painter.paint(last);
      await Promise.resolve();
    }
    return last;
  };
  await go(0.2);
  expect(text()).toBe('stopped');
  live.act({ press: 'S2' });
  await go(0.1);
  Object.assign(written, { texts: 0, attributes: 0 });
  await go(1);
  // Thirty frames of a motor that runs up: five texts a second, and no attribute that stayed as it was.
  expect(written.texts).toBeGreaterThan(1);
  expect(written.texts).toBeLessThanOrEqual(6);
  expect(written.attributes).toBeLessThanOrEqual(2);
  expect(group.getAttribute('data-turning')).toBe('forward');
  const end = await go(3);
  expect(Math.abs(Number(text()!.replace(' rpm', '')) - end!.motors[0]!.rpm)).toBeLessThan(2);
  live.act({ release: 'S2' });
  live.act({ press: 'S1' });
  await go(30);
  expect(group.getAttribute('data-driven')).toBe('none');
  expect(text()).toBe('stopped');
});

test('a row of the dead test lays the probes and says what is to be held until it is', async () => {
  const store = createLiveStore();
  const shape = { devices: ['S2'], terminals: ['G1:L1', 'G1:N'] };
  store.setState({ shape, frame: { states: ['released'] } } as never);
  const ohms = jest.fn((_from: string, _to: string) => Promise.resolve(529));
  const noteReading = jest.fn();
  const kept = Object.assign(
    createStore(() => ({ readings: [], supplyOn: false })),
    { actions: { noteReading } },
  ) as unknown as BenchStore;
  const view = {
    exercise: { deadTests: [{ between: ['G1:L1', 'G1:N'], hold: ['S2'] }] },
  } as unknown as AttemptView;
  const { user } = show(
    <DeadTests view={view} store={kept} live={{ store, ohms } as unknown as PageBench} />,
  );
  expect(screen.getByText('○ Test dead: 0 of 1')).toBeDefined();
  await user.click(screen.getByRole('button', { name: /G1 L1 – G1 N, S2 held/ }));
  const from = screen.getByRole('combobox', { name: 'Dead test from' });
  expect((from as HTMLSelectElement).value).toBe('G1:L1');
  expect(
    screen.getByText(/^Hold S2 while you read: click it with Shift, or keep a finger on it/),
  ).toBeDefined();
  act(() => store.setState({ frame: { states: ['pressed'] } } as never));
  expect(screen.queryByText(/^Hold S2/)).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Read ohms' }));
  expect(ohms).toHaveBeenCalledWith('G1:L1', 'G1:N');
  expect(noteReading).toHaveBeenCalledWith('G1:L1', 'G1:N');
  expect(await screen.findByText(/^529 Ω$/)).toBeDefined();
  // Another terminal is another reading: nothing is to be held for it.
  act(() => store.setState({ frame: { states: ['released'] } } as never));
  await user.selectOptions(from, 'G1:N');
  expect(screen.queryByText(/^Hold S2/)).toBeNull();
  const read = screen.getByRole('button', { name: 'Read ohms' }) as HTMLButtonElement;
  expect(read.disabled).toBe(true);
});

test('the account menu is fetched when it is asked for, opens as it comes, and signs out elsewhere', async () => {
  const student: Person = { id: 's', login: 'skerry', name: 'Ebba Skerry', role: 'student' };
  answer('POST /session/end-others', { body: student });
  const { user } = show(<Shell person={student} dark={false} onDark={() => undefined} />);
  expect(screen.queryByRole('menu')).toBeNull();
  const button = screen.getByRole('button', { name: 'Ebba Skerry, student: account' });
  expect(button.getAttribute('aria-haspopup')).toBe('menu');
  await user.click(button);
  const item = await screen.findByRole('menuitem', { name: 'Sign out everywhere else' });
  await user.click(item);
  expect(await screen.findByText('You are signed out everywhere else.')).toBeDefined();
  expect(sent('POST', '/session/end-others')).toHaveLength(1);
});
