import { isOpening, type Circuit, type Hands, type MechanicalState, type Network } from '../circuit/index.js';
import { describeFault, withFault, type Fault } from '../faults/index.js';
import { Solver, describeShort } from '../electrics/index.js';
import { boardSignature, type BoardSignature } from './board-signature.js';
import { Decisions } from './decisions.js';
import type { Exploration } from './exploration.js';
import type { Proof, Property } from './proof.js';
import type { PropertyId } from './properties/index.js';
import { proveCircuit } from './prove.js';
import { networkOf } from './reduced.js';
import { Search } from './search.js';

/** Nobody works the switchgear of a board that has failed. */
const HANDS: Hands = 'controls';

/** What a fault takes away. */
interface Verdict {
  /** Properties that hold no longer, each with the shortest sequence that shows it. */
  readonly lost: readonly Property[];
  /** A short circuit that it makes is cleared by a fuse or breaker in its way. */
  readonly cleared: boolean;
  readonly complete: boolean;
}

/** A board with one fault. */
interface Faulty {
  readonly fault: Fault;
  readonly circuit: Circuit;
  readonly network: Network;
  readonly signature: BoardSignature;
  /** The same for faults that leave the same to prove. */
  readonly key: string;
}

const NOTHING_LOST: Verdict = { lost: [], cleared: false, complete: true };

/**
 * Proofs of one board with one fault after another. Faults that leave the same to prove (two wires in one
 * chain, say) are proved once; one that changes nothing that a proof asks takes nothing away; and boards that
 * differ in what hangs on their motors alone share one search.
 */
export class FaultProofs {
  private readonly known = new Map<string, Verdict>();
  /** By what decides about the coils: the search that serves all boards of which that is the same. */
  private readonly explored = new Map<string, Exploration | null>();
  private readonly own: BoardSignature;

  constructor(
    private readonly circuit: Circuit,
    private readonly sound: Proof,
    /** Those that hold on the sound board. */
    private readonly properties: readonly PropertyId[],
  ) {
    this.own = boardSignature(circuit, networkOf(circuit, HANDS), circuit);
  }

  /** What each of some faults takes away. */
  verdictsOn(faults: readonly Fault[]): Verdict[] {
    const boards = faults.map((fault) => this.withFault(fault));
    const alike = this.alike(boards);
    return boards.map((board) => {
      const known = this.known.get(board.key);
      if (known) return known;
      const verdict = this.verdictOn(board, alike.get(board.signature.control) ?? 1);
      this.known.set(board.key, verdict);
      return verdict;
    });
  }

  private withFault(fault: Fault): Faulty {
    const outcome = withFault(this.circuit, fault);
    if ('problem' in outcome) throw new Error(outcome.problem);
    const { circuit } = outcome;
    const network = networkOf(circuit, HANDS);
    const signature = boardSignature(circuit, network, this.circuit);
    // Which fuse an earth fault blows rests on its place: a fuse joins what lies before and behind it.
    const key = fault.kind === 'earth-fault' ? describeFault(fault) : signature.whole;
    return { fault, circuit, network, signature, key };
  }

  /** How many boards that are not the same have the same coils and contacts before them. */
  private alike(boards: readonly Faulty[]): Map<string, number> {
    const found = new Map<string, Set<string>>();
    for (const { fault, signature } of boards) {
      if (fault.kind === 'earth-fault') continue;
      const wholes = found.get(signature.control) ?? new Set();
      found.set(signature.control, wholes.add(signature.whole));
    }
    return new Map([...found].map(([control, { size }]) => [control, size]));
  }

  private verdictOn(board: Faulty, alike: number): Verdict {
    const { fault, circuit, network, signature } = board;
    if (this.properties.length === 0) return NOTHING_LOST;
    if (this.sound.complete && signature.whole === this.own.whole) return NOTHING_LOST;
    const solver = new Solver(circuit);
    const decisions = new Decisions(solver, HANDS, network);
    if (fault.kind === 'earth-fault') return this.ofEarthFault(solver, decisions);
    const how = { properties: this.properties, hands: HANDS };
    // A board of several parts is quicker proved by them.
    if (alike > 1 && !this.sound.parts) {
      const exploration = this.explorationOf(signature.control);
      const proof = exploration && sharedProof(solver, decisions, exploration, how);
      if (proof) return verdictOf(proof);
      if (exploration === undefined) {
        const search = new Search(solver, how, { decisions });
        const own = search.run();
        this.explored.set(
          signature.control,
          isShareable(search.exploration, own) ? search.exploration : null,
        );
        return verdictOf(own);
      }
    }
    return verdictOf(proveCircuit(solver, how, decisions));
  }

  /** The search of boards of which this decides about the coils; null where they cannot share it. */
  private explorationOf(control: string): Exploration | null | undefined {
    const known = this.explored.get(control);
    if (known !== undefined || control !== this.own.control) return known;
    const solver = new Solver(this.circuit);
    const search = new Search(solver, { properties: this.properties, hands: HANDS });
    const exploration = isShareable(search.exploration, search.run()) ? search.exploration : null;
    this.explored.set(control, exploration);
    return exploration;
  }

  /** An earth fault is there to be cleared: only one that no protection sees is a short circuit that stays. */
  private ofEarthFault(solver: Solver, decisions: Decisions): Verdict {
    const { circuit } = solver;
    let cleared = false;
    const isCleared = (state: MechanicalState): boolean => {
      const { through } = describeShort(solver, state, solver.at(state));
      const clears = through.some(({ tag }) =>
        circuit.protections.some((protection) => protection.tag === tag && isOpening(protection)),
      );
      cleared ||= clears;
      return clears;
    };
    const how = { properties: this.properties, hands: HANDS, isCleared };
    return { ...verdictOf(proveCircuit(solver, how, decisions)), cleared };
  }
}

const verdictOf = ({ properties, complete }: Proof): Verdict => ({
  lost: properties.filter(({ holds }) => !holds),
  cleared: false,
  complete,
});

/** A search serves other boards where nothing was shorted and no coil's answer rests on a whole solution. */
const isShareable = ({ decisions, hasShorted }: Exploration, { complete }: Proof): boolean =>
  complete && !hasShorted && decisions.areCoilsSure;

/**
 * The proof of a board by the search of another one that has the same coils behind the same contacts: the
 * situations are the same, and only what drives the motors in them is not. Null where that is not sure: the
 * bounds within which the coils' answers were found are wider here, or something is shorted in a situation.
 */
function sharedProof(
  solver: Solver,
  decisions: Decisions,
  exploration: Exploration,
  how: { readonly properties: readonly PropertyId[]; readonly hands: Hands },
): Proof | null {
  if (!decisions.coilsWithin(exploration.decisions)) return null;
  const { situations } = exploration;
  const before = situations.count;
  const state = solver.circuit.initial.slice();
  for (let number = 0; number < before; number += 1) {
    situations.read(number, state);
    if (decisions.shorted(state)) return null;
  }
  const proof = new Search(solver, how, { decisions, exploration }).run();
  return situations.count === before ? proof : null;
}
