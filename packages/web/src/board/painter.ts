import type { Frame, MotorFrame, Shape } from '@contactum/core';

/**
 * Writes what changes many times a second straight to the drawing's elements, without React. Elements
 * are found once by their data attributes; each frame touches only what differs from the one before.
 */
export class Painter {
  private readonly terminals: (SVGElement | null)[];
  private readonly pilots: (SVGElement | null)[];
  private readonly blades: (SVGElement | null)[];
  private readonly devices: { group: SVGElement | null; text: SVGElement | null; knob: SVGElement | null }[];
  private readonly lamps: { group: SVGElement | null; text: SVGElement | null }[];
  private readonly motors: { group: SVGElement | null; shaft: SVGElement | null; text: SVGElement | null }[];
  private readonly index: Map<string, number>;
  private last: Frame | null = null;
  private angles: number[];
  private readonly still: boolean;
  private readonly timers: { ring: SVGElement; delay: number; device: number }[];
  private readonly begun: number[] = [];
  /** By motor, how it turned when its speed was last written, and from when it may be written again. */
  private readonly turned: string[] = [];
  private readonly readable: number[] = [];

  constructor(
    private readonly root: SVGSVGElement,
    private readonly shape: Shape,
    private readonly positions: (tag: string) => readonly string[],
  ) {
    const find = (selector: string) => root.querySelector<SVGElement>(selector);
    const group = (tag: string) => find(`[data-device="${CSS.escape(tag)}"]`);
    this.terminals = shape.terminals.map((ref) => find(`[data-terminal="${CSS.escape(ref)}"]`));
    this.pilots = shape.terminals.map((ref) => find(`[data-pilot="${CSS.escape(ref)}"]`));
    this.blades = shape.contacts.map((ref) => find(`[data-blade="${CSS.escape(ref)}"]`));
    this.devices = shape.devices.map((tag) => {
      const g = group(tag);
      return {
        group: g,
        text: g?.querySelector('[data-text]') ?? null,
        knob: g?.querySelector('[data-knob]') ?? null,
      };
    });
    this.lamps = shape.lamps.map((tag) => {
      const g = group(tag);
      return { group: g, text: g?.querySelector('[data-text]') ?? null };
    });
    this.motors = shape.motors.map((tag) => {
      const g = group(tag);
      return {
        group: g,
        shaft: g?.querySelector('[data-shaft]') ?? null,
        text: g?.querySelector('[data-text]') ?? null,
      };
    });
    this.timers = [...root.querySelectorAll<SVGElement>('[data-delay]')].map((ring) => ({
      ring,
      delay: Number(ring.dataset.delay),
      device: shape.devices.indexOf(ring.dataset.of ?? ''),
    }));
    this.index = new Map(shape.terminals.map((ref, k) => [ref, k]));
    this.angles = shape.motors.map(() => 0);
    this.still = window.matchMedia('(prefers-reduced-motion: reduce)').matches;
  }

  paint(frame: Frame): void {
    const { last } = this;
    if (frame.live.length !== this.terminals.length) return;
    let liveChanged = last === null;
    this.terminals.forEach((element, k) => {
      const now = frame.live[k];
      if (last && last.live[k] === now) return;
      liveChanged = true;
      element?.setAttribute('data-live', String(now));
      this.pilots[k]?.setAttribute('data-live', String(now));
    });
    if (liveChanged) this.paintLeads(frame);
    this.blades.forEach((element, k) => {
      if (!last || last.closed[k] !== frame.closed[k])
        element?.setAttribute('data-closed', String(frame.closed[k]));
    });
    this.devices.forEach(({ group, text, knob }, k) => {
      const state = frame.states[k] ?? '';
      if (last && last.states[k] === state) return;
      group?.setAttribute('data-state', state);
      if (text) text.textContent = group?.dataset.supply === 'yes' ? (SUPPLY_WORDS[state] ?? state) : state;
      if (knob) knob.style.transform = `rotate(${this.knobAngle(this.shape.devices[k] ?? '', state)}deg)`;
    });
    this.lamps.forEach(({ group, text }, k) => {
      const state = frame.lamps[k] ?? 'dark';
      if (last && last.lamps[k] === state) return;
      group?.setAttribute('data-state', state);
      if (text) text.textContent = state;
    });
    this.paintMotors(frame, last);
    this.paintTimers(frame, last);
    this.paintDamage(frame);
    this.last = frame;
  }

  /** Leads are live with the terminal that they come from; drawn anew after the wiring has changed. */
  paintLeads(frame: Frame): void {
    for (const lead of this.root.querySelectorAll<SVGElement>('[data-lead-from]')) {
      const k = this.index.get(lead.dataset.leadFrom ?? '');
      lead.setAttribute('data-live', k === undefined ? '0' : String(frame.live[k]));
    }
  }

  /** The ring about a timer's delay fills while it runs. */
  private paintTimers(frame: Frame, last: Frame | null): void {
    this.timers.forEach(({ ring, delay, device }, k) => {
      const state = frame.states[device] ?? '';
      if (state === 'timing' && last?.states[device] !== 'timing') this.begun[k] = frame.t;
      const part =
        state === 'done' ? 1 : state === 'timing' ? (frame.t - (this.begun[k] ?? frame.t)) / delay : 0;
      ring.style.strokeDashoffset = String(1 - Math.min(1, part));
    });
  }

  /** What has burnt looks burnt until the board is a fresh one. */
  private paintDamage({ incidents }: Frame): void {
    for (const { kind, where } of incidents) {
      if (kind !== 'coil-burnt' && kind !== 'lamp-burnt') continue;
      const tag = where[0]?.split(':')[0] ?? '';
      this.root.querySelector(`[data-device="${CSS.escape(tag)}"]`)?.setAttribute('data-damage', 'burnt');
    }
  }

  private paintMotors(frame: Frame, last: Frame | null): void {
    const seconds = last ? Math.min(frame.t - last.t, 0.1) : 0;
    this.motors.forEach(({ group, shaft, text }, k) => {
      const motor = frame.motors[k];
      if (!motor) return;
      const before = last?.motors[k];
      if (shaft && motor.rpm !== 0 && !this.still) {
        // Slowed down forty times, so that the eye can follow the direction.
        this.angles[k] = ((this.angles[k] ?? 0) + (motor.rpm / 60) * 360 * seconds * 0.025) % 360;
        shaft.style.transform = `rotate(${this.angles[k] ?? 0}deg)`;
      }
      if (before && before.rpm === motor.rpm && before.driven === motor.driven && before.amps === motor.amps)
        return;
      const turning = turningOf(motor.rpm);
      set(group, 'data-turning', turning);
      set(group, 'data-driven', motor.driven);
      this.writeSpeed(text, k, frame.t, turning, motor);
    });
  }

  /** The speed in figures, as often as somebody can read: each new text has the whole board laid out anew. */
  private writeSpeed(
    text: Element | null,
    k: number,
    now: number,
    turning: Turning,
    { rpm, driven }: MotorFrame,
  ): void {
    const isPassing = turning !== 'stopped' && this.turned[k] === turning && now < (this.readable[k] ?? 0);
    if (!text || isPassing) return;
    this.turned[k] = turning;
    this.readable[k] = now + READABLE;
    const words =
      turning !== 'stopped' ? `${Math.round(Math.abs(rpm))} rpm` : driven === 'none' ? 'stopped' : 'hums';
    if (text.textContent !== words) text.textContent = words;
  }

  private knobAngle(tag: string, state: string): number {
    const positions = this.positions(tag);
    if (positions.length === 0) return state === 'closed' ? 90 : state === 'tripped' ? 45 : 0;
    const k = Math.max(0, positions.indexOf(state));
    return positions.length === 1 ? 0 : -45 + (90 * k) / (positions.length - 1);
  }
}

/** Seconds between two texts of a speed that changes. */
const READABLE = 0.2;

type Turning = 'stopped' | 'forward' | 'reverse';

const turningOf = (rpm: number): Turning => (Math.abs(rpm) < 5 ? 'stopped' : rpm > 0 ? 'forward' : 'reverse');

/** An attribute that is written as it is already would have the element styled anew. */
function set(element: Element | null, name: string, value: string): void {
  if (element && element.getAttribute(name) !== value) element.setAttribute(name, value);
}

const SUPPLY_WORDS: Readonly<Record<string, string>> = { closed: 'on', open: 'off' };
