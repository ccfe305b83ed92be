import { describe, expect, test } from '@jest/globals';
import { act, screen, within } from '@testing-library/react';
import { DEVICE_TYPES } from '@contactum/core';
import { DeviceTable } from '../../src/board/DeviceTable.js';
import { PartsPage } from '../../src/parts/PartsPage.js';
import { PURPOSES } from '../../src/parts/words.js';
import { exercise } from '../../../core/test/help.js';
import { show } from './stage.js';

const at = (type: string) => show(<PartsPage />, { path: '/parts/:type?', at: `/parts/${type}` });

describe('parts', () => {
  test('every kind of device has its page: purpose, both drawings, terminals', () => {
    for (const type of DEVICE_TYPES) {
      const { unmount } = at(type);
      expect(screen.getByText(PURPOSES[type])).toBeTruthy();
      expect(screen.getAllByRole('img', { name: /drawing of / })).toHaveLength(2);
      expect(
        within(screen.getByRole('region', { name: 'Terminals' })).getAllByRole('button').length,
      ).toBeGreaterThan(1);
      unmount();
    }
    const { container } = at('contactor');
    const names = within(container.querySelector('nav')!)
      .getAllByRole('link')
      .map(({ textContent }) => textContent);
    expect(new Set(names).size).toBe(DEVICE_TYPES.length);
  });

  test('a terminal that is pointed at is lit on the board and in both drawings; by keyboard too', async () => {
    const { user, container } = at('contactor');
    const lit = () => ({
      board: container.querySelectorAll('[data-marked="yes"]').length,
      drawings: container.querySelectorAll('.part-lit circle').length,
    });
    expect(lit()).toEqual({ board: 0, drawings: 0 });
    const terminal = screen.getByRole('button', { name: /^13 / });
    await user.hover(terminal);
    expect(lit()).toEqual({ board: 1, drawings: 2 });
    await user.unhover(screen.getByRole('region', { name: 'Terminals' }));
    expect(lit().board).toBe(0);
    act(() => terminal.focus());
    expect(lit()).toEqual({ board: 1, drawings: 2 });
  });

  test('how it is tested and how it fails are read off the part', () => {
    at('contactor');
    const tested = screen.getByRole('region', { name: 'How it is tested' });
    const row = within(tested).getByRole('row', { name: /13 and 14/ });
    expect(
      within(row)
        .getAllByRole('cell')
        .map(({ textContent }) => textContent),
    ).toEqual(['contact, normally open', 'no connection', 'closed, 0 Ω']);
    const fails = screen.getByRole('region', { name: 'How it fails' });
    expect(within(fails).getByText(/coil of KM1 open/).textContent).toContain(
      'A1 and A2, at rest, no connection instead of',
    );
    expect(within(fails).getByText(/armature of KM1 jammed out/).textContent).toContain(
      'no ohmmeter reading',
    );
  });

  test('what is none is said to be none; a list of devices leads here', () => {
    const { unmount } = at('crank');
    expect(screen.getByText('There is no such part.')).toBeTruthy();
    unmount();
    show(<DeviceTable devices={exercise('brine-pump-three-wire').bench.devices} />);
    expect(screen.getByRole('link', { name: 'Contactor' }).getAttribute('href')).toBe('/parts/contactor');
  });
});
