import { useState } from 'react';
import { expect, jest, test } from '@jest/globals';
import { act, fireEvent, screen, within } from '@testing-library/react';
import {
  compile,
  connectionsOf,
  programHints,
  programOf,
  referenceBench,
  type Program,
} from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { whenDropped } from '../../src/programs/dropped.js';
import { ProgramEditor } from '../../src/programs/ProgramEditor.js';
import { RepairSection } from '../../src/slip/RepairSection.js';
import { show } from './stage.js';

const exercise = shippedExercise('brine-pump-controller-program')!;
const board = referenceBench(exercise);
const right = programOf(board.devices.find(({ tag }) => tag === 'A1'))!;
const connections = connectionsOf(board, 'A1');

/** The editor as a page holds it; tells every program that it makes. */
function Held({ from, onMade }: { from: Program | null; onMade: (program: Program) => void }) {
  const [program, setProgram] = useState(from);
  return (
    <ProgramEditor
      tag="A1"
      program={program}
      title="Pump"
      connections={connections}
      hints={programHints(compile(board), 'A1')}
      on={null}
      onChange={(to) => {
        setProgram(to);
        onMade(to);
      }}
    />
  );
}

const edited = (from: Program | null = right) => {
  const onMade = jest.fn<(program: Program) => void>();
  const shown = show(<Held from={from} onMade={onMade} />);
  return { ...shown, made: () => onMade.mock.lastCall![0] };
};

test('an empty program begins with what is wired; a rung is added and drawn by keys', async () => {
  const { user, made } = edited(null);
  await user.click(screen.getByRole('button', { name: /Add wired terminals/ }));
  expect(made().variables.map(({ name }) => name)).toEqual(['S1', 'S2', 'F2', 'KM1_in', 'KM1']);
  await user.click(screen.getByText('Ladder'));
  await user.click(screen.getByRole('button', { name: /Add rung/ }));
  expect(made().rungs).toEqual([{ when: [], then: [{ coil: 'KM1' }] }]);
  const rung = screen.getByRole('group', { name: 'Rung 1' });
  fireEvent.keyDown(within(rung).getByRole('button', { name: 'Coil KM1' }), { key: 'Enter' });
  expect(made().rungs[0]!.when).toEqual([{ no: 'S1' }]);
  const contact = screen.getByRole('button', { name: 'NO S1' });
  fireEvent.focus(contact);
  fireEvent.keyDown(contact, { key: 'n' });
  expect(made().rungs[0]!.when).toEqual([{ nc: 'S1' }]);
  fireEvent.keyDown(screen.getByRole('button', { name: 'NC S1' }), { key: 'b' });
  expect(made().rungs[0]!.when).toEqual([{ any: [[{ nc: 'S1' }], [{ no: 'S1' }]] }]);
  fireEvent.keyDown(screen.getByRole('button', { name: 'NO S1' }), { key: 'Delete' });
  expect(made().rungs[0]!.when).toEqual([{ nc: 'S1' }]);
});

test('a terminal that is let go over a rung becomes a contact of it', () => {
  const { made } = edited();
  const rung = document.querySelector('[data-rung="0"]')!;
  document.elementFromPoint = () => rung;
  const onDropped = jest.fn();
  whenDropped('KM1:14', onDropped);
  act(() => window.dispatchEvent(new MouseEvent('pointerup') as PointerEvent));
  expect(onDropped).toHaveBeenCalledTimes(1);
  expect(made().rungs[0]!.when.at(-1)).toEqual({ no: 'Runs' });
  // Over anything else nothing comes of it.
  document.elementFromPoint = () => document.body;
  whenDropped('KM1:14', onDropped);
  act(() => window.dispatchEvent(new MouseEvent('pointerup') as PointerEvent));
  expect(onDropped).toHaveBeenCalledTimes(1);
});

test('variables say which rungs write and read them, and lead there', async () => {
  const { user } = edited();
  await user.click(screen.getByText('Variables'));
  const row = screen.getByLabelText('Name of Pump').closest('tr')!;
  expect(within(row).getByText('KM1 coil')).toBeDefined();
  await user.click(within(row).getByRole('button', { name: 'Rung 1, written' }));
  expect(document.querySelector('[data-found]')!.getAttribute('aria-label')).toBe('Coil Pump');
});

test('a name is taken over wherever it stands; one that is taken is not', async () => {
  const { user, made } = edited();
  await user.click(screen.getByText('Variables'));
  const name = screen.getByLabelText('Name of Start');
  await user.clear(name);
  await user.type(name, 'Go{Enter}');
  expect(JSON.stringify(made().rungs)).toContain('{"no":"Go"}');
  const other = screen.getByLabelText('Name of Stop');
  await user.clear(other);
  await user.type(other, 'go{Enter}');
  expect(made().variables.map((one) => one.name)).toContain('Stop');
});

test('text is applied or refused with its line', async () => {
  const { user, made } = edited();
  await user.click(screen.getByText('Text'));
  const text = screen.getByLabelText<HTMLTextAreaElement>('Structured text');
  const before = text.value;
  fireEvent.change(text, { target: { value: before.replace('Start OR Runs', 'Start OR Nobody') } });
  await user.click(screen.getByRole('button', { name: 'Apply' }));
  expect(screen.getByText(/^Line \d+: "Nobody" is not declared/)).toBeDefined();
  fireEvent.change(text, { target: { value: before.replace('Start OR Runs', 'Start OR Pump') } });
  await user.click(screen.getByRole('button', { name: 'Apply' }));
  expect(JSON.stringify(made().rungs)).toContain('[{"no":"Pump"}]');
});

test('a bit that two coils write is told while it is written', () => {
  edited({ ...right, rungs: [...right.rungs, { when: [{ no: 'Start' }], then: [{ coil: 'Pump' }] }] });
  expect(screen.getByText('Rung 2: Pump has more than one coil, and the last one wins.')).toBeDefined();
});

test('what is forced is told, and only where somebody may', async () => {
  const force = jest.fn();
  const { user } = show(
    <ProgramEditor
      tag="A1"
      program={right}
      title="Pump"
      connections={connections}
      hints={[]}
      on={new Set(['Stop', 'Trip'])}
      forcing={{ forced: new Map([['I0.1', true]]), force }}
    />,
  );
  expect(screen.getByText('1 value forced: wiring and program have no effect there.')).toBeDefined();
  expect(screen.queryByRole('button', { name: /Add rung/ })).toBeNull();
  const lit = [...document.querySelectorAll('[data-lit]')].map((one) => one.getAttribute('aria-label'));
  expect(lit).toEqual(['NO Stop', 'NO Trip']);
  await user.click(screen.getByText('Variables'));
  expect(screen.getByLabelText('Force Q0.0')).toBeDefined();
});

test('the rung whose change would do is named under the slip', async () => {
  const result = {
    found: false,
    repairs: [],
    more: false,
    searched: 0,
    tried: 2,
    stopped: false,
    program: {
      controller: 'A1',
      repairs: [[{ rung: 0, replace: { no: 'Pump' }, by: { no: 'Runs' } }]],
      singles: true,
      pairs: false,
      tried: 74,
    },
  };
  const answer = { state: 'done', before: 0, edits: 1, tried: 74, result };
  globalThis.fetch = () =>
    Promise.resolve(
      new Response(JSON.stringify(answer), { headers: { 'content-type': 'application/json' } }),
    );
  const { user } = show(<RepairSection slip={{ attempt: { id: 'a1' } } as never} onShow={() => undefined} />);
  await user.click(screen.getByRole('button', { name: /Find the fewest edits/ }));
  expect(await screen.findByText('Rung 1: NO Runs instead of NO Pump.')).toBeDefined();
  expect(screen.getByText(/One change of a contact in the program of A1 is enough/)).toBeDefined();
});

test('a timer that runs says for how long it has', () => {
  const rests = shippedExercise('brine-pump-controller-rest')!.program!.A1!;
  show(
    <ProgramEditor
      tag="A1"
      program={rests}
      title="Pump"
      connections={connections}
      hints={[]}
      on={new Set()}
      elapsed={new Map([['Rest', 2.44]])}
    />,
  );
  expect(screen.getByText('runs, 2.4 s')).toBeDefined();
  expect(screen.getByText('TON 20 s')).toBeDefined();
});
