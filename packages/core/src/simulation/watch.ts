import { BURNT, REST, SUPPLY_TRIPPED, TRIPPED } from '../catalogue/index.js';
import { isArmature, isFuse, type Circuit, type Coil, type MechanismIndex } from '../circuit/index.js';
import { coilVoltageFault, coilWants, describeShort, potentialOf } from '../electrics/index.js';
import { clearingSeconds } from '../machines/index.js';
import { COIL_BURN_OVERVOLTAGE, COIL_BURN_SECONDS, LAMP_BURNS, TOUCH_VOLTS } from '../tolerances.js';
import type { Clocks } from './clocks.js';
import { NEVER, type Present } from './present.js';
import type { Shafts } from './shafts.js';
import type { Trace } from './trace.js';

/**
 * What the present solution does to a bench: shorts are cleared, coils and lamps burn, frames become live,
 * fields change.
 */
export class Watch {
  /** By coil: when it will burn. */
  readonly burns: Float64Array;

  constructor(
    private readonly present: Present,
    private readonly trace: Trace,
    private readonly clocks: Clocks,
    private readonly shafts: Shafts,
  ) {
    this.burns = new Float64Array(this.circuit.coils.length).fill(NEVER);
  }

  private get circuit(): Circuit {
    return this.present.solver.circuit;
  }

  get next(): number {
    let next = NEVER;
    for (const at of this.burns) if (at < next) next = at;
    return next;
  }

  /** A short opens the nearest protection that clears it first; without any, the supply itself trips. */
  clearShort(): void {
    const { circuit, present, trace } = this;
    const { state } = present;
    const found = describeShort(present.solver, state, present.electrical);
    present.shorted = true;
    trace.incident(found.kind, found.path);
    let fastest: { mechanism: MechanismIndex; seconds: number } | null = null;
    for (const { tag, amps } of found.through) {
      const protection = circuit.protections.find((one) => one.tag === tag);
      const seconds = clearingSeconds(protection?.spec, amps);
      if (protection && seconds < (fastest?.seconds ?? NEVER))
        fastest = { mechanism: protection.mechanism, seconds };
    }
    if (fastest) {
      this.open(fastest.mechanism);
      return;
    }
    for (const tag of found.supplies) {
      const index = circuit.mechanismOf.get(tag);
      if (index === undefined) continue;
      state[index]! |= SUPPLY_TRIPPED;
      trace.incident('breaker-trip', [tag]);
    }
  }

  /** A breaker trips or a fuse blows. */
  open(index: MechanismIndex): void {
    const mechanism = this.circuit.mechanisms[index]!;
    this.present.state[index] = TRIPPED;
    this.trace.incident(isFuse(mechanism) ? 'fuse-blown' : 'breaker-trip', [mechanism.device.tag]);
  }

  /** Coils that are energised outside their limits, also between two moves of one instant. */
  coilVoltages(): void {
    const { circuit, trace } = this;
    const { electrical } = this.present;
    circuit.coils.forEach(({ tag, a, b }, k) => {
      const fault = coilVoltageFault(circuit, electrical, k);
      if (trace.begins(`over ${tag}`, (fault?.perUnit ?? 0) > 1)) trace.incident('coil-overvoltage', [tag]);
      if (trace.begins(`volts ${tag}`, fault !== null))
        trace.note(
          `volts(${circuit.terminals[a]!}, ${circuit.terminals[b]!})`,
          `${electrical.coilVolts[k]!.toFixed(1)} V`,
        );
    });
  }

  /** Coils and lamps that will burn, live earths, and the field of each motor. */
  loads(): void {
    this.circuit.coils.forEach((coil, k) => {
      if (!this.isStressed(coil, k)) this.burns[k] = NEVER;
      else if (this.burns[k] === NEVER) this.burns[k] = this.present.t + COIL_BURN_SECONDS;
    });
    this.burnLamps();
    this.circuit.motors.forEach((motor, k) => {
      const live = potentialOf(this.present.solver, this.present.electrical, motor.earth) > TOUCH_VOLTS;
      if (this.trace.begins(`earth ${motor.tag}`, live))
        this.trace.incident('live-earth', [`${motor.tag}:PE`]);
      this.noteField(motor.tag, k);
    });
  }

  /** Far over its voltage, on the wrong kind of current, or with its armature held out. */
  private isStressed(coil: Coil, k: number): boolean {
    const { circuit } = this;
    const { electrical, state } = this.present;
    if (electrical.coilVolts[k]! > COIL_BURN_OVERVOLTAGE * coil.voltage) return true;
    if (coil.kind !== 'ac') return false;
    if (coilVoltageFault(circuit, electrical, k)?.wrongKind === true) return true;
    return (
      isArmature(circuit.mechanisms[coil.mechanism]!) &&
      state[coil.mechanism] === REST &&
      coilWants(circuit, electrical, state, k)
    );
  }

  private burnLamps(): void {
    const { present, trace, clocks } = this;
    const { solver, state } = present;
    this.circuit.lamps.forEach((lamp, k) => {
      if (present.electrical.lampVolts[k]! <= LAMP_BURNS * lamp.voltage) return;
      const before = state.slice();
      state[lamp.mechanism] = BURNT;
      trace.incident('lamp-burnt', [lamp.tag]);
      clocks.noteChanges(before);
      present.electrical = solver.at(state);
    });
  }

  private noteField(tag: string, k: number): void {
    const { trace } = this;
    const driven = this.present.electrical.motors[k]?.driven ?? 'none';
    if (driven === this.shafts.list[k]!.driven) return;
    // What chatters is told once, with what follows from it.
    const chatters = this.clocks.chattering.size > 0;
    if (!chatters) trace.note(`${tag}.driven`, driven);
    const single = `single ${tag}`;
    if (driven === 'single-phase' && !(chatters && trace.lasts(single)))
      trace.incident('single-phasing', [tag]);
    if (driven === 'single-phase') trace.begins(single, true);
    if (this.shafts.drive(k, driven) && !chatters) trace.incident('plugging', [tag]);
  }

  /** Burns every coil whose time has come; false where none was due. */
  reach(due: number): boolean {
    let changed = false;
    this.circuit.coils.forEach((coil, k) => {
      if (this.burns[k]! > due) return;
      this.burns[k] = NEVER;
      this.present.state[coil.winding] = BURNT;
      this.trace.incident('coil-burnt', [coil.tag]);
      changed = true;
    });
    return changed;
  }
}
