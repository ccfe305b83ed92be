import { expect, jest, test } from '@jest/globals';
import { screen } from '@testing-library/react';
import { Simulation, referenceBench, type Bench, type Stimulus } from '@contactum/core';
import { exercise, rewire, solverOf } from '../../../core/test/help.js';
import { IncidentBanner } from '../../src/bench/IncidentBanner.js';
import { show } from './stage.js';

/** What a board tells when it is worked. */
function incidentsOf(board: Bench, steps: readonly Stimulus[]) {
  const simulation = new Simulation(solverOf(board));
  for (const step of steps) simulation.work(step);
  return simulation.incidents;
}

const pump = referenceBench(exercise('brine-pump-three-wire'));

test('nothing is said of a board on which nothing has happened', () => {
  show(<IncidentBanner incidents={incidentsOf(pump, [{ press: 'S2' }])} onClose={() => undefined} />);
  expect(screen.queryByRole('alert')).toBeNull();
});

test('a short says what met and by what way, and what to do about the breaker that opened', async () => {
  const shorted = rewire(pump, '', 'KM1:2>KM1:4');
  const closed = jest.fn();
  const { user } = show(
    <IncidentBanner incidents={incidentsOf(shorted, [{ press: 'S2' }, { wait: 1 }])} onClose={closed} />,
  );
  const alert = screen.getByRole('alert');
  expect(alert.textContent).toMatch(/Short circuit between two phases: G1 L\d met G1 L\d by way of/);
  expect(alert.textContent).toContain('Breaker has opened: Q1.');
  expect(alert.textContent).toContain('Find the cause with the supply off, then reset it at its lever.');
  await user.click(screen.getByRole('button', { name: 'Clear incidents' }));
  expect(closed).toHaveBeenCalledTimes(1);
});

test('a coil through its own normally closed contact, and an output led to an input, are told by where they are', () => {
  const buzzer = rewire(pump, 'S2:14>KM1:A1', 'S2:14>KM1:21 KM1:22>KM1:A1');
  const [first] = incidentsOf(buzzer, [{ press: 'S2' }, { wait: 1 }]);
  expect(first).toMatchObject({ kind: 'chatter', where: ['KM1'] });
  const both = [first!, { ...first!, where: ['A1'] }];
  show(<IncidentBanner incidents={both} onClose={() => undefined} />);
  const { textContent } = screen.getByRole('alert');
  expect(textContent).toContain('Chattering: KM1.');
  expect(textContent).toContain('Chattering: A1.');
  expect(textContent).toContain('a coil fed through its own normally closed contact');
  expect(textContent).toContain('a controller output wired back to its input');
});

test('of many incidents the last three are told', () => {
  const all = ['F1', 'F2', 'F3', 'F4'].map((tag, t) => ({ t, kind: 'fuse-blown' as const, where: [tag] }));
  show(<IncidentBanner incidents={all} onClose={() => undefined} />);
  const { textContent } = screen.getByRole('alert');
  expect([...(textContent ?? '').matchAll(/Fuse has blown: (F\d)/g)].map(([, tag]) => tag)).toEqual([
    'F2',
    'F3',
    'F4',
  ]);
});
