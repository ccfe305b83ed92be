import { useEffect, useRef, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { describeStimulus, type Fault, type WrittenFault } from '@contactum/core';
import type { BenchHand, BenchSays, BenchWord, ToBench } from '@contactum/contract';
import { ServerLine } from '../api/line.js';
import type { Act } from '../board/Handle.js';
import { doTyped, type Kit } from './use-workplace.js';

/** How often the floor is told what it is to know, milliseconds. */
const TELL_MS = 100;

/** An instructor who asks for the lead, or has it. */
interface Asker {
  readonly name: string;
  readonly id: string;
}

/** What the instructor does at this bench, as its student is told it. */
export interface Visit {
  /** Who looks on. */
  readonly watched: string | null;
  /** Who asks for the lead, and who has it. */
  readonly asked: Asker | null;
  readonly lead: Asker | null;
  /** Messages of this visit, the oldest first. */
  readonly words: readonly BenchWord[];
  /** A message that was not sent, and why. */
  readonly unsent: { readonly text: string; readonly why: string } | null;
}

const NOT_CONNECTED = 'There is no connection just now. Send it again when it is back.';

const NOBODY: Visit = { watched: null, asked: null, lead: null, words: [], unsent: null };

interface Work {
  readonly act: Act;
  readonly switchSupply: (on: boolean) => void;
  readonly isLeading: boolean;
}

/** Whether the messages are open: by hand, or since an instructor wrote. */
export function useMessages({ words }: Pick<Visit, 'words'>) {
  const [isAsked, setAsked] = useState(false);
  const [closedAt, setClosedAt] = useState<string | null>(null);
  const last = words.findLast(({ isStudents }) => !isStudents)?.id ?? null;
  return {
    isOpen: isAsked || last !== closedAt,
    open: (yes: boolean) => {
      setAsked(yes);
      if (!yes) setClosedAt(last);
    },
  };
}

export type MessagesHand = ReturnType<typeof useMessages>;

/** The floor as a bench knows it. */
export interface FloorAtBench {
  readonly visit: Visit;
  readonly messages: MessagesHand;
  /** Says yes or no to the one who asked, or takes the lead back from who has it. */
  readonly answer: (yes: boolean, to: Asker) => void;
  /** Sends a message to the instructors. */
  readonly write: (text: string) => void;
}

/**
 * Asks the floor for what the student asks, and lets the instructor's hand in, as far as the student has
 * agreed.
 */
export function useFloor(id: string, kit: Kit, { act, switchSupply, isLeading }: Work): FloorAtBench {
  const [visit, setVisit] = useState<Visit>(NOBODY);
  const line = useRef<FloorLine | null>(null);
  const now = useRef({ act, switchSupply });
  const client = useQueryClient();
  useEffect(() => {
    now.current = { act, switchSupply };
  });
  useEffect(() => {
    if (!isLeading) return undefined;
    const own = new FloorLine(id, kit, {
      asks: () => kit.store.getState().asks,
      permitted: () => {
        kit.store.actions.patch({ asks: false });
        void client.invalidateQueries({ queryKey: ['permission', id] });
      },
      hand: (hand) => doneBy(hand, kit, now.current),
      tell: (change) =>
        setVisit((before) => ({ ...before, ...(typeof change === 'function' ? change(before) : change) })),
    });
    line.current = own;
    return () => {
      line.current = null;
      own.close();
      setVisit(NOBODY);
    };
  }, [id, kit, client, isLeading]);
  return {
    visit,
    messages: useMessages(visit),
    answer: (yes, to) => {
      line.current?.say({ kind: 'consent', yes, to: to.id });
      setVisit((before) => ({ ...before, asked: null }));
    },
    write: (text) => {
      const isSent = line.current?.say({ kind: 'word', text }) === true;
      setVisit((before) => ({ ...before, unsent: isSent ? null : { text, why: NOT_CONNECTED } }));
    },
  };
}

/** Does what the instructor's hand wants; why it could not, else null. */
function doneBy(
  hand: BenchHand,
  kit: Kit,
  { act, switchSupply }: Pick<Work, 'act' | 'switchSupply'>,
): string | null {
  if (hand.do === 'act') {
    act.give(hand.stimulus);
    return null;
  }
  const done = doTyped(hand.line, kit, act, switchSupply);
  return done ? null : (kit.store.getState().message?.text ?? 'This could not be done.');
}

interface Hooks {
  readonly asks: () => boolean;
  readonly permitted: () => void;
  readonly hand: (hand: BenchHand) => string | null;
  readonly tell: (change: Partial<Visit> | ((before: Visit) => Partial<Visit>)) => void;
}

/** The socket to the floor: opened again when it is lost, and silent while nothing changes. */
class FloorLine {
  private readonly line: ServerLine<BenchSays, ToBench>;
  private told = false;
  private faults: readonly Fault[] = [];
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(
    attemptId: string,
    private readonly kit: Kit,
    private readonly hooks: Hooks,
  ) {
    this.line = new ServerLine(`/attempts/${attemptId}/floor`, {
      pauses: [500, 5_000],
      hear: (told) => this.hear(told),
      opened: () => {
        this.line.steady();
        this.told = false;
      },
      lost: () => this.hooks.tell({ watched: null, lead: null, asked: null }),
    });
    this.timer = setInterval(() => this.tick(), TELL_MS);
  }

  /** False where there is no connection. */
  say(says: BenchSays): boolean {
    return this.line.say(says);
  }

  close(): void {
    clearInterval(this.timer);
    this.line.close();
    this.kit.live.setFaults([]);
  }

  /** Says whether permission is asked for, where it was not said yet; how the board stands is in its log. */
  private tick(): void {
    const asks = this.hooks.asks();
    if (asks !== this.told && this.line.say({ kind: 'asks', yes: asks })) this.told = asks;
  }

  private hear(told: ToBench): void {
    const { tell } = this.hooks;
    switch (told.kind) {
      case 'watched':
        tell({ watched: told.by });
        return;
      case 'lead-asked':
        tell({ asked: { name: told.by, id: told.id } });
        return;
      case 'lead':
        tell({ lead: told.by === null ? null : { name: told.by, id: told.id ?? '' }, asked: null });
        return;
      case 'permitted':
        this.hooks.permitted();
        return;
      case 'word': {
        const { word } = told;
        tell(({ words }) => ({
          words: words.some(({ id }) => id === word.id) ? words : [...words, word],
        }));
        return;
      }
      case 'unsent':
        tell({ unsent: { text: told.text, why: told.why } });
        return;
      case 'hand': {
        const why = this.hooks.hand(told.hand);
        const what = told.hand.do === 'line' ? told.hand.line : describeStimulus(told.hand.stimulus);
        if (why !== null) this.say({ kind: 'refused', why: `${what}: ${why}`.slice(0, 300) });
        return;
      }
      case 'fault':
        void this.takeFault(told.fault, told.clear);
    }
  }

  /** Puts in or takes out a fault of an instructor; what reads it is fetched with the first one. */
  private async takeFault(written: WrittenFault, clear: boolean): Promise<void> {
    const { faultKey, readFault } = await import('./told-faults.js');
    const fault = readFault(written);
    const others = this.faults.filter((one) => faultKey(one) !== faultKey(fault));
    this.faults = clear ? others : [...others, fault];
    this.kit.live.setFaults(this.faults);
  }
}
