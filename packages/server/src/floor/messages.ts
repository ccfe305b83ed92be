import type { WebSocket } from 'ws';
import type { WrittenFault } from '@contactum/core';
import type { Allowance } from '../security/pace.js';
import type { FollowedStanding } from '../threads/following.js';
import type { BenchHand, BenchStatus, FloorBench, FloorNews, Person, ToBench } from '@contactum/contract';

/** A student's page at a bench, in this process. */
export interface Bench {
  readonly attemptId: string;
  readonly classId: string;
  readonly student: Person;
  readonly socket: WebSocket;
  /** As its log says; null before it was looked at. */
  standing: FollowedStanding | null;
  /** What was told of it last. */
  status: BenchStatus | null;
  /** Asks for permission to energise. */
  asks: boolean;
  /** Faults that an instructor has put in. */
  faults: readonly WrittenFault[];
  /** An instructor looks on. */
  watched: boolean;
  /** Whoever looks on was told how it stands at rest. */
  shown: boolean;
  /** To be kept. */
  kept: boolean;
  /**
   * How many of its potentials are complete, and after how many edits that was so; null before it is looked
   * at.
   */
  measured: { readonly edits: number; readonly complete: number; readonly of: number } | null;
  /** Who has the lead beside the student. */
  lead: string | null;
  /** Messages that its student may write. */
  readonly allowance: Allowance;
  /** Who asked for it. */
  asked: { readonly id: string; readonly name: string } | null;
}

/** An instructor's page on the floor, in this process. */
export interface Observer {
  readonly classId: string;
  readonly instructor: Person;
  readonly socket: WebSocket;
  watching: string | null;
}

/** What processes tell each other. */
export type Message =
  | { readonly to: 'class'; readonly classId: string; readonly changed: readonly Change[] }
  | { readonly to: 'bench'; readonly attemptId: string; readonly body: Order }
  | { readonly to: 'floor'; readonly classId: string; readonly news: FloorNews }
  | { readonly to: 'watchers'; readonly attemptId: string; readonly news: FloorNews }
  | { readonly to: 'instructor'; readonly personId: string; readonly news: FloorNews }
  | { readonly to: 'benches'; readonly classId: string; readonly body: ToBench };

/** A change of a bench, by its attempt; what it has that is not told stays. */
export type Change = Pick<FloorBench, 'attemptId'> & Partial<FloorBench>;

/** What a bench is told, and by whom where that matters. */
export type Order =
  | ToBench
  | { readonly kind: 'ask-lead'; readonly by: string; readonly name: string }
  | { readonly kind: 'leave-lead'; readonly by: string }
  | { readonly kind: 'hand-by'; readonly by: string; readonly hand: BenchHand };
