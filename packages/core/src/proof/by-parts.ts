import { OPERATED } from '../catalogue/index.js';
import type { MechanicalState } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { Cones } from './cones.js';
import { LikeParts } from './like-parts.js';
import type { Decisions } from './decisions.js';
import type { Met, Violation } from './judging.js';
import { partOf, type Members, type Part } from './part.js';
import { Follower, NotClosed, PartSearch, type Sequence, type Shown } from './part-search.js';
import type { Proof, ProofOptions, ProvedPart } from './proof.js';
import { propertyRule, type PropertyId } from './properties/index.js';
import { MOST_RUNNING, Search, counted, judgedOn, ofWiring, verdict, type Unshown } from './search.js';

interface Searched {
  readonly draft: Members;
  readonly part: Part;
  readonly search: PartSearch;
  readonly proof: Omit<Proof, 'properties'>;
  /** The search is another part's, which is like this one. */
  readonly isLike?: true;
}

/**
 * Proves a board by its parts: sets of mechanisms of which none depends on anything outside its part. What
 * happens in a part is the same whatever the others do, so every order in which the board can be worked is,
 * seen from a part, an order in which that part can be worked alone: what holds in each part holds on the
 * board. What a part breaks is worked on the whole board, and counts as what that shows; where it shows
 * nothing, the whole board is searched for this property. No proof where the board is one part; `meet` tells
 * whose voltages rest on all of it where it would be several otherwise.
 */
export function proveByParts(
  solver: Solver,
  decisions: Decisions,
  options: ProofOptions,
): { readonly proof: Proof | null; readonly meet: readonly string[] } {
  const parted = new PartedProof(solver, decisions, options);
  const proof = parted.run();
  return { proof, meet: parted.isMeeting ? decisions.resting : [] };
}

class PartedProof {
  private readonly cones: Cones;
  /** Made when a second part is looked at. */
  private like: LikeParts | undefined;
  private readonly judged: readonly PropertyId[];
  /** What was found against properties, and by how many stimuli. */
  readonly violations = new Map<PropertyId, Violation>();
  private readonly best = new Map<PropertyId, number>();
  readonly unshown = new Map<PropertyId, Unshown>();
  /** Properties that only a search of the whole board decides. */
  private readonly doubtful: Set<PropertyId>;
  /** Parts were found of which some answer rests on the whole solution. */
  isMeeting = false;

  constructor(
    private readonly solver: Solver,
    private readonly decisions: Decisions,
    private readonly options: ProofOptions,
  ) {
    const { circuit } = solver;
    this.cones = new Cones(circuit, decisions);
    this.judged = judgedOn(circuit, options.properties);
    this.doubtful = new Set(this.judged.filter((id) => propertyRule(id).needsWhole?.(circuit)));
  }

  run(): Proof | null {
    const searched = this.search(this.drafts());
    if (!searched) return null;
    for (const one of searched) if (!one.isLike) this.beside(one);
    const met = this.met(searched);
    return met && this.proof(searched, met);
  }

  // ── parts ────────────────────

  private drafts(): Members[] {
    const { cones, decisions } = this;
    const { circuit } = this.solver;
    const ofMotors = circuit.motors.map((_, k) => ({
      inside: cones.close(cones.ofMotor(k)),
      motors: [k],
      regions: [],
    }));
    // Most boards have one motor, and all that moves belongs to it.
    if (this.isWhole(ofMotors)) return ofMotors;
    return merged([
      ...ofMotors,
      ...circuit.mechanisms
        .filter(({ coils }) => coils.length > 0)
        .map(({ index }) => ({ inside: cones.close([index]), motors: [], regions: [] })),
      ...Array.from({ length: decisions.regions }, (_, k) => ({
        inside: cones.close(cones.ofRegion(k)),
        motors: [],
        regions: [k],
      })),
    ]);
  }

  /** True where the parts, each as a product of what moves in it, come to as much as the board does. */
  private isWhole(drafts: readonly Members[]): boolean {
    const parts = drafts.reduce((sum, { inside }) => sum + 2 ** inside.size, 0);
    return 2 * parts > 2 ** this.cones.movable;
  }

  // ── searches ────────────────────

  /**
   * Searches each part; one that turns out to depend on more takes that in and is searched again. Null where
   * the parts come to be the whole board, or the board does not come on.
   */
  private search(drafts: readonly Members[]): Searched[] | null {
    let open = [...drafts];
    let done: Searched[] = [];
    const inParts = this.judged.filter((id) => !propertyRule(id).wiring && !this.doubtful.has(id));
    while (open.length > 0) {
      if (this.isWhole([...open, ...done.map(({ draft }) => draft)])) return null;
      const draft = open.shift()!;
      const known = this.knownLike(draft, done);
      if (known) {
        done.push(known);
        continue;
      }
      const one = this.attempt(draft, inParts);
      const missing = this.decisions.missing(one.part);
      if (!missing) {
        this.isMeeting = open.length + done.length > 0;
        return null;
      }
      if (missing.length === 0 && one.proof) {
        if (one.proof.states === 0) return null;
        this.keep(one.search);
        done.push({ ...one, draft, proof: one.proof });
        continue;
      }
      const grown = { ...draft, inside: this.cones.close([...draft.inside, ...missing]) };
      const all = merged([grown, ...open, ...done.map((other) => other.draft)]);
      done = done.filter((other) => all.includes(other.draft));
      open = all.filter((other) => !done.some(({ draft: known }) => known === other));
    }
    return done.length > 0 ? done : null;
  }

  /**
   * What the search of a part like this one came to. What it shows against a property takes as many stimuli
   * here, so it shows nothing that was not found there.
   */
  private knownLike(draft: Members, done: readonly Searched[]): Searched | null {
    for (const one of done) {
      if (one.isLike || one.draft.inside.size !== draft.inside.size) continue;
      this.like ??= new LikeParts(this.solver.circuit, this.decisions);
      const likeness = this.like.likeness(one.draft, draft);
      if (!likeness) continue;
      const running = one.proof.running.map(likeness.state);
      return { ...one, draft, proof: { ...one.proof, running }, isLike: true };
    }
    return null;
  }

  /** Searches a part; without a proof where it was seen on the way that it depends on more. */
  private attempt(
    draft: Members,
    properties: readonly PropertyId[],
    untilFound = false,
  ): { readonly part: Part; readonly search: PartSearch; readonly proof: Searched['proof'] | null } {
    const part = partOf(this.solver.circuit, this.decisions, draft);
    const search = new PartSearch(this.solver, {
      proof: { ...this.options, properties },
      decisions: this.decisions,
      part,
      best: this.best,
      untilFound,
      confirm: (id, sequence) => {
        if (this.decisions.missing(part)?.length !== 0) throw new NotClosed();
        return this.onWhole(id, sequence, part);
      },
    });
    try {
      return { part, search, proof: search.search() };
    } catch (error) {
      if (!(error instanceof NotClosed)) throw error;
      return { part, search, proof: null };
    }
  }

  /**
   * Works a sequence of a part on the whole board; what does not belong to the part arrives in some order.
   */
  private follow(properties: readonly PropertyId[], sequence: Sequence, { inside }: Part): Follower {
    const follower = new Follower(
      this.solver,
      { ...this.options, properties },
      { decisions: this.decisions, inOneOrder: inside.map((own) => 1 - own) },
    );
    follower.follow(sequence);
    return follower;
  }

  private onWhole(id: PropertyId, sequence: Sequence, part: Part): Shown {
    const { violations, unshown } = this.follow([id], sequence, part);
    return { violation: violations.get(id), unshown: unshown.get(id) };
  }

  private keep(search: PartSearch): void {
    for (const [id, violation] of search.violations) {
      const length = search.lengths.get(id)!;
      if (length >= (this.best.get(id) ?? Number.POSITIVE_INFINITY)) continue;
      this.best.set(id, length);
      this.violations.set(id, violation);
    }
    for (const [id, unshown] of search.unshown)
      if (!this.unshown.has(id) || (this.unshown.get(id)!.burns && !unshown.burns))
        this.unshown.set(id, unshown);
    for (const id of search.doubtful) this.doubtful.add(id);
  }

  /** What runs in a part while something is operated that nothing in the part depends on. */
  private beside({ draft, search }: Searched): void {
    const { circuit } = this.solver;
    for (const id of this.judged) {
      if (this.doubtful.has(id)) continue;
      for (const one of propertyRule(id).operated?.(circuit) ?? []) {
        if (draft.inside.has(one) || this.decisions.fixed[one] === 1) continue;
        const least = search.stepsToRun + (circuit.initial[one] === OPERATED ? 0 : 1);
        if (least >= (this.best.get(id) ?? Number.POSITIVE_INFINITY)) continue;
        const more = this.attempt({ ...draft, inside: new Set([...draft.inside, one]) }, [id], true);
        if (more.proof) this.keep(more.search);
        // What could not be searched to its end is left to a search of the whole board.
        if (!more.proof?.complete && !this.violations.has(id)) this.doubtful.add(id);
      }
    }
  }

  // ── what it comes to ────────────────────

  /**
   * What was met in some part. Where a way may end in one part while another is still worked, it is shown on
   * the whole board that something runs; null where that cannot be shown.
   */
  private met(searched: readonly Searched[]): Met | null {
    const searches = searched.map(({ search }) => search);
    const { circuit } = this.solver;
    const met = {
      circuit,
      hasRun: searches.some(({ hasRun }) => hasRun),
      hasDriven: searches.some(({ hasDriven }) => hasDriven),
      hasEnergised: searches.some(({ hasEnergised }) => hasEnergised),
    };
    if (!met.hasEnergised && !met.hasRun) return met;
    if (!searches.some(({ mayEnd }) => mayEnd)) return met;
    const judges = this.judged.filter((id) => id === 'full-phases');
    for (const { search, part, isLike } of searched) {
      if (search.firstRun < 0 || isLike) continue;
      const sequence = search.sequenceTo(search.firstRun);
      const { hasRun, hasDriven, hasEnergised } = this.follow(judges, sequence, part);
      if (hasRun && hasDriven === met.hasDriven && hasEnergised === met.hasEnergised) return met;
    }
    return null;
  }

  private proof(searched: readonly Searched[], met: Met): Proof {
    const { circuit } = this.solver;
    for (const [id, violation] of ofWiring(circuit, this.judged)) this.violations.set(id, violation);
    const properties = [...this.doubtful];
    const whole =
      properties.length > 0
        ? new Search(this.solver, { ...this.options, properties }, { decisions: this.decisions }).run()
        : null;
    const sum = (pick: (proof: Searched['proof']) => number) =>
      searched.reduce((all, { proof }) => all + pick(proof), 0);
    const states = sum((proof) => proof.states);
    const complete = searched.every(({ proof }) => proof.complete);
    return {
      complete: complete && whole?.complete !== false,
      states,
      situations: sum(({ situations }) => situations),
      properties: this.judged.map(
        (id) =>
          whole?.properties.find((property) => property.id === id) ??
          verdict(id, counted(this, id, this.options), met, { complete, states, shortedAtOnce: false }),
      ),
      running: searched
        .flatMap(({ proof }): readonly MechanicalState[] => proof.running)
        .slice(0, MOST_RUNNING),
      parts: searched.map(({ draft, proof, isLike }): ProvedPart => ({
        devices: [
          ...new Set([...draft.inside].sort((a, b) => a - b).map((m) => circuit.mechanisms[m]!.device.tag)),
        ],
        states: proof.states,
        situations: proof.situations,
        ...(isLike ? { isLikeAnother: isLike } : {}),
      })),
    };
  }
}

/** Drafts of which none lies within another; what was to be judged in one that did is judged there. */
function merged(drafts: readonly Members[]): Members[] {
  const kept: Members[] = [];
  for (const draft of [...drafts].sort((a, b) => b.inside.size - a.inside.size)) {
    const k = kept.findIndex(({ inside }) => [...draft.inside].every((m) => inside.has(m)));
    const host = kept[k];
    if (!host) kept.push(draft);
    else kept[k] = withSubjects(host, draft);
  }
  const first = ({ inside }: Members) => Math.min(...inside);
  return kept.sort((a, b) => first(a) - first(b));
}

/** A draft that judges another's motors and regions as well; the same one where it does already. */
function withSubjects(host: Members, { motors, regions }: Members): Members {
  const more = (own: readonly number[], other: readonly number[]) => [...new Set([...own, ...other])];
  const [m, r] = [more(host.motors, motors), more(host.regions, regions)];
  if (m.length === host.motors.length && r.length === host.regions.length) return host;
  return { inside: host.inside, motors: m.sort((a, b) => a - b), regions: r.sort((a, b) => a - b) };
}
