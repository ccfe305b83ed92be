import { expect, jest, test } from '@jest/globals';
import { act, screen, waitFor, within } from '@testing-library/react';
import { provedSoFar, referenceBench, type Explanation } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import type { AttemptView } from '@contactum/contract';
import { createStore } from 'zustand/vanilla';
import { createLinkStore } from '../../src/board/link.js';
import { onlySeen, createLiveStore } from '../../src/bench/live.js';
import type { RecordedKit } from '../../src/bench/use-workplace.js';
import { Stage } from '../../src/bench/views/Stage.js';
import { PredictPane } from '../../src/bench/views/PredictPane.js';
import { ProofPane } from '../../src/bench/views/ProofPane.js';
import { WhyStrip } from '../../src/bench/WhyStrip.js';
import { fitted } from '../../src/drawing/fit.js';
import { show } from './stage.js';

const pump = shippedExercise('brine-pump-three-wire')!;
const board = referenceBench(pump);

const HELD: Explanation = {
  of: 'KM1',
  state: 'in',
  path: ['F1:1-2', 'KM1:13-14'],
  blocks: null,
  beside: [],
  sentence: 'KM1 is held through F1 1-2 and its own 13-14.',
};

test('the line under the board explains what is chosen, or pointed at, and lights its way', async () => {
  const link = createLinkStore();
  const explain = jest.fn((tag: string) =>
    Promise.resolve(tag === 'KM1' ? HELD : { ...HELD, of: tag, sentence: `${tag} is driven forward.` }),
  );
  const live = { ...onlySeen(createLiveStore()), explain };
  const { user } = show(<WhyStrip live={live} link={link} devices={board.devices} />);
  expect(screen.getByText(/Point at a designation/)).toBeDefined();
  const chooser = screen.getByRole('combobox', { name: 'Explain a device' });
  // A breaker and a button have nothing to explain.
  const offered = screen.getAllByRole('option').map((one) => one.textContent);
  expect(offered).toEqual(expect.arrayContaining(['KM1', 'M1']));
  expect(offered).not.toContain('S1');
  await user.selectOptions(chooser, 'KM1');
  expect(await screen.findByText(HELD.sentence)).toBeDefined();
  const refs = ['F1:1', 'F1:2', 'KM1:13', 'KM1:14', 'KM1:A1', 'KM1:A2'];
  expect(link.getState().why).toEqual({ tag: 'KM1', refs });
  act(() => link.setState({ pointed: { kind: 'device', tag: 'M1' } }));
  expect(await screen.findByText('M1 is driven forward.')).toBeDefined();
  act(() => link.setState({ pointed: null }));
  expect(await screen.findByText(HELD.sentence)).toBeDefined();
});

test('the line asks again after the board has changed, and nothing while it stands still', async () => {
  jest.useFakeTimers();
  try {
    const [link, store] = [createLinkStore(), createLiveStore()];
    const explain = jest.fn(() => Promise.resolve(HELD));
    show(<WhyStrip live={{ ...onlySeen(store), explain }} link={link} devices={board.devices} />);
    const later = () => act(async () => jest.advanceTimersByTimeAsync(5_000));
    await act(async () => link.setState({ pointed: { kind: 'device', tag: 'KM1' } }));
    await later();
    expect(explain).toHaveBeenCalledTimes(1);
    // Many frames in a short time are one question.
    act(() => [1, 2, 3].forEach((t) => store.setState({ frame: { t } as never })));
    await later();
    expect(explain).toHaveBeenCalledTimes(2);
    await later();
    expect(explain).toHaveBeenCalledTimes(2);
  } finally {
    jest.useRealTimers();
  }
});

const HANDS = { give: jest.fn(), stateOf: () => '' };

const proofPane = (wires: typeof board.wires) => {
  const bench = { ...board, wires };
  const kit = {
    store: createStore(() => ({ bench })),
    live: onlySeen(createLiveStore()),
  } as unknown as RecordedKit;
  const view = { exercise: pump } as unknown as AttemptView;
  const soFar = provedSoFar(bench, pump.behaviours);
  return show(
    <ProofPane
      kit={kit}
      view={view}
      link={createLinkStore()}
      act={HANDS}
      proof={{ soFar, isBehind: false, problem: null }}
      physical={null}
    />,
  );
};
const stands = (title: string) => screen.getByText(title).closest('li') as HTMLElement;

test('the proof beside the board tells what is asked and what is safe, so far', () => {
  proofPane(board.wires);
  const asked = within(screen.getAllByRole('list')[0]!).getAllByRole('listitem');
  expect(asked.every((one) => one.textContent?.includes('The board does it.'))).toBe(true);
  expect(stands('Stop always stops').dataset.stands).toBe('holds');
  expect(screen.queryByRole('button', { name: 'Play it' })).toBeNull();
});

test('half of the leads: what is not there yet is not called wrong, and what breaks can be played', () => {
  proofPane([
    ...board.wires.filter(({ from, to }) => !`${from} ${to}`.includes('KM1:14')),
    { from: 'KM1:A1', to: 'G1:N' },
  ]);
  expect(stands('Stop always stops').dataset.stands).toBe('untested');
  const short = stands('No order of working it makes a short circuit');
  expect(short.dataset.stands).toBe('broken');
  expect(within(short).getByRole('button', { name: 'Play it' })).toBeDefined();
});

test('a view stands beside the board, alone, or not at all; its room is moved by keys and remembered', async () => {
  const stage = (open: 'drawing' | null, alone = false) => (
    <Stage dock={{ open, alone }} board={<p>board</p>} view={<p>view</p>} />
  );
  const shown = show(stage('drawing'));
  const slider = screen.getByRole('slider', { name: 'Room for the view beside the board' });
  expect(slider.getAttribute('value')).toBe('46');
  slider.focus();
  localStorage.setItem('contactum.dock', '60');
  shown.unmount();
  show(stage('drawing'));
  await waitFor(() => expect(screen.getByRole('slider').getAttribute('value')).toBe('60'));
  show(stage(null));
  expect(screen.getAllByRole('slider')).toHaveLength(1);
});

test('a drawing is fitted whole: side by side in a wide room, one below another in a tall one', () => {
  const sizes = [
    [260, 440],
    [150, 400],
  ] as const;
  const wide = fitted(sizes, [900, 500], 'whole');
  expect(wide.isRow).toBe(true);
  const tall = fitted(sizes, [300, 1_400], 'whole');
  expect(tall.isRow).toBe(false);
  for (const { scale, isRow } of [wide, tall]) expect(scale).toBeGreaterThan(isRow ? 0.9 : 1);
  // All of it is inside the room.
  expect((260 + 150) * wide.scale + 24).toBeLessThanOrEqual(900);
  expect(440 * wide.scale).toBeLessThanOrEqual(500);
  expect(fitted(sizes, [600, 100], 'width').scale).toBe(1.6);
});

test('predict, then press: each coil and motor is compared, and what came otherwise is explained', async () => {
  const shape = { devices: ['KM1'], lamps: [], motors: ['M1'] };
  const frame = (state: string, driven: string) => ({
    states: [state],
    lamps: [],
    motors: [{ driven }],
  });
  const store = createLiveStore();
  const put = (state: string, driven: string) =>
    act(() => store.setState({ supplyOn: true, shape, frame: frame(state, driven) } as never));
  put('out', 'none');
  const live = { ...onlySeen(store), explain: (tag: string) => Promise.resolve({ ...HELD, of: tag }) };
  const give = jest.fn((_: object) => put('in', 'forward'));
  const kit = { store: createStore(() => ({ bench: board })), live } as unknown as RecordedKit;
  const view = { exercise: pump } as unknown as AttemptView;
  const { user } = show(
    <PredictPane
      kit={kit}
      view={view}
      link={createLinkStore()}
      proof={null}
      physical={null}
      act={{ give, stateOf: () => '' }}
    />,
  );
  const doIt = () => screen.getByRole('button', { name: 'Do it and compare' });
  expect(doIt().hasAttribute('disabled')).toBe(true);
  await user.click(screen.getByRole('combobox', { name: 'What is done' }));
  await user.click(screen.getByTitle('press S2'));
  const tap = (tag: string, word: string) => {
    const row = screen.getByText(tag).closest('li') as HTMLElement;
    return user.click(within(row).getByText(word));
  };
  await tap('KM1', 'in');
  // Of every device something is said before anything is done.
  expect(doIt().hasAttribute('disabled')).toBe(true);
  await tap('M1', 'stands');
  await user.click(doIt());
  expect(give).toHaveBeenCalledWith({ press: 'S2' });
  expect(await screen.findByText('press S2: 1 of 2 as you said')).toBeDefined();
  expect(screen.getByText(/forward, not stands/)).toBeDefined();
  expect(screen.getByText(HELD.sentence)).toBeDefined();
  expect(doIt().hasAttribute('disabled')).toBe(true);
});
