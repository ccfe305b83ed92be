import { describe, expect, test } from '@jest/globals';
import {
  DEVICE_TYPES,
  anatomy,
  deviceSheet,
  freshDevice,
  kindOf,
  partFaults,
  partReadings,
  type DeviceType,
} from '@contactum/core';

/** A device as it comes from the shelf. */
const part = (type: DeviceType) => freshDevice(type, `${kindOf({ type }).letters.iec}1`, { devices: [] });
const ohmsOf = (type: DeviceType, between: string): readonly number[] =>
  partReadings(part(type)).rows.find((row) => row.between.join('-') === between)!.ohms;

describe('a part that is taken out and measured (common practice, no source)', () => {
  test('contacts open and close as a hand works them; a coil has its ohms either way', () => {
    expect(partReadings(part('contactor')).doing).toEqual(['at rest', 'KM1 pushed in']);
    expect(ohmsOf('contactor', '13-14')).toEqual([Number.POSITIVE_INFINITY, 0]);
    expect(ohmsOf('contactor', '21-22')).toEqual([0, Number.POSITIVE_INFINITY]);
    const [rest, pushed] = ohmsOf('contactor', 'A1-A2');
    expect(rest).toBeGreaterThan(50);
    expect(rest).toBeLessThan(3000);
    expect(pushed).toBe(rest);
    expect(ohmsOf('overload', '95-96')).toEqual([0, Number.POSITIVE_INFINITY]);
    expect(ohmsOf('overload', '97-98')).toEqual([Number.POSITIVE_INFINITY, 0]);
    expect(ohmsOf('limit-switch', '13-14')).toEqual([Number.POSITIVE_INFINITY, 0]);
    expect(partReadings(part('selector')).doing).toEqual(['at rest', 'S1 at off', 'S1 at on']);
    expect(ohmsOf('selector', '13-14')).toEqual([Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, 0]);
  });

  test('the windings of a motor have the same few ohms from lead to lead, and none to the frame', () => {
    const windings = ['U-V', 'V-W', 'W-U'].map((between) => ohmsOf('motor-3', between)[0]!);
    expect(new Set(windings.map((ohms) => ohms.toPrecision(6))).size).toBe(1);
    expect(windings[0]).toBeGreaterThan(0.1);
    expect(ohmsOf('motor-3', 'U-PE')).toEqual([Number.POSITIVE_INFINITY]);
  });

  test('a reading tells a welded pole, a contact that does not make, a burnt coil; not a jammed armature', () => {
    const told = Object.fromEntries(
      partFaults(part('contactor')).map(({ fault, shown }) => [
        fault.kind,
        shown && [shown.between.join('-'), shown.doing, shown.ohms],
      ]),
    );
    expect(told).toMatchObject({
      'contact-stuck-closed': ['1-2', 'at rest', 0],
      'contact-stuck-open': ['1-2', 'KM1 pushed in', Number.POSITIVE_INFINITY],
      'coil-open': ['A1-A2', 'at rest', Number.POSITIVE_INFINITY],
      'coil-shorted': ['A1-A2', 'at rest', 0],
      'armature-jammed': null,
    });
    const blown = partFaults(part('fuse')).find(({ fault }) => fault.kind === 'blown-fuse');
    expect(blown!.shown).toMatchObject({ between: ['1', '2'], ohms: Number.POSITIVE_INFINITY, sound: 0 });
    expect(partFaults(part('timer')).find(({ fault }) => fault.kind === 'timer-dead')!.shown).toBeNull();
  });

  test('every fault that is told belongs to the part, and its reading differs from that of a sound one', () => {
    for (const type of DEVICE_TYPES) {
      const device = part(type);
      const names = new Set(anatomy(device).terminals.map(({ name }) => name));
      for (const { fault, shown } of partFaults(device)) {
        expect(JSON.stringify(fault)).not.toContain('X0:');
        if (!shown) continue;
        expect(shown.between.every((name) => names.has(name))).toBe(true);
        expect(shown.ohms).not.toBe(shown.sound);
      }
    }
  });
});

describe('the symbols of a device by itself', () => {
  const cases = DEVICE_TYPES.flatMap((type) => (['iec', 'us'] as const).map((form) => ({ type, form })));

  test.each(cases)(
    '$type, $form: boxes apart, within the sheet, terminals of the device',
    ({ type, form }) => {
      const device = part(type);
      const sheet = deviceSheet(device, form);
      expect(sheet.symbols.length).toBeGreaterThan(0);
      const names = new Set(anatomy(device).terminals.map(({ name }) => name));
      const [width, height] = sheet.size;
      for (const [k, { box, terminals }] of sheet.symbols.entries()) {
        const [x, y, w, h] = box;
        expect(x >= 0 && y >= 0 && x + w <= width && y + h <= height).toBe(true);
        for (const [name, at] of Object.entries(terminals)) {
          expect(names.has(name)).toBe(true);
          expect(at[0] >= x && at[0] <= x + w && at[1] >= y && at[1] <= y + h).toBe(true);
        }
        for (const other of sheet.symbols.slice(k + 1)) {
          const [ox, oy, ow, oh] = other.box;
          expect(x + w < ox || ox + ow < x || y + h < oy || oy + oh < y).toBe(true);
        }
      }
      expect(sheet.texts.some(({ text }) => text === device.tag)).toBe(true);
    },
  );

  test('a contactor shows all it has: three poles, its auxiliaries, its coil', () => {
    expect(deviceSheet(part('contactor'), 'iec').symbols.map(({ part: name }) => name)).toEqual([
      '1-2',
      '3-4',
      '5-6',
      '13-14',
      '21-22',
      'A1-A2',
    ]);
  });
});
