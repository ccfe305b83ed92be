import { useRef, type KeyboardEvent, type ReactNode, type SVGProps } from 'react';
import { positionsOn, type Device, type Stimulus } from '@contactum/core';

/** Gives the bench a stimulus; `stateOf` says what a device is doing at this moment. */
export interface Act {
  readonly give: (stimulus: Stimulus) => void;
  readonly stateOf: (tag: string) => string;
}

type Verb = 'push' | 'armature' | 'latch' | 'turn' | 'toggle' | 'supply' | 'trip' | 'reset';

/** What springs back when it is let go: a button, and an armature that is pushed in by hand. */
type Sprung = 'push' | 'armature';

/** What a touch of a handle does that does not spring back, from what its device is doing. */
function touched(device: Device, verb: Exclude<Verb, Sprung>, state: string): Stimulus | null {
  const { tag } = device;
  switch (verb) {
    case 'latch':
      return state === 'pressed' ? { release: tag } : { press: tag };
    case 'turn': {
      const positions = positionsOn(device);
      const next = positions[(positions.indexOf(state) + 1) % positions.length];
      return next === undefined ? null : { turn: tag, to: next };
    }
    case 'toggle':
    case 'supply':
      if (state === 'tripped' || state === 'blown') return { reset: tag };
      return state === 'open' ? { close: tag } : { open: tag };
    case 'trip':
      return { trip: tag };
    case 'reset':
      return { reset: tag };
  }
}

/** A hand is never quicker than a plunger: the shortest push, milliseconds. */
const SHORTEST_PUSH = 80;

const isKey = ({ key }: KeyboardEvent): boolean => key === ' ' || key === 'Enter';

type Handlers = Pick<
  SVGProps<SVGGElement>,
  'onClick' | 'onPointerDown' | 'onPointerUp' | 'onPointerCancel' | 'onKeyDown' | 'onKeyUp' | 'onBlur'
>;

const SPRUNG: Readonly<Record<Sprung, (tag: string) => { held: Stimulus; let: Stimulus }>> = {
  push: (tag) => ({ held: { press: tag }, let: { release: tag } }),
  armature: (tag) => ({ held: { pushIn: tag }, let: { letOut: tag } }),
};

/** Works what springs back: held by pointer or key; with Shift it stays held until it is touched again. */
function usePush(act: Act | undefined, tag: string, verb: Sprung): Handlers {
  const { held: press, let: release } = SPRUNG[verb](tag);
  const held = useRef(false);
  /** True while pointer or key holds it. */
  const down = useRef(false);
  const pushedAt = useRef(0);
  const give = (stimulus: Stimulus) => act?.give(stimulus);
  const hold = (sticky: boolean) => {
    if (held.current) {
      held.current = false;
      give(release);
      return;
    }
    held.current = sticky;
    down.current = true;
    pushedAt.current = performance.now();
    give(press);
  };
  const letGo = () => {
    down.current = false;
    if (held.current || act?.stateOf(tag) === '') return;
    const early = pushedAt.current + SHORTEST_PUSH - performance.now();
    if (early <= 0) give(release);
    else setTimeout(() => give(release), early);
  };
  return {
    onPointerDown: (event) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      hold(event.shiftKey);
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onKeyDown: (event) => {
      if (!isKey(event)) return;
      event.preventDefault();
      if (!event.repeat) hold(event.shiftKey);
    },
    onKeyUp: (event) => {
      if (isKey(event)) letGo();
    },
    onBlur: () => {
      if (!held.current && down.current) letGo();
    },
  };
}

/** Works what stays where it is put. */
function touching(act: Act, device: Device, verb: Exclude<Verb, Sprung>): Handlers {
  const once = () => {
    const stimulus = touched(device, verb, act.stateOf(device.tag));
    if (stimulus) act.give(stimulus);
  };
  return {
    onClick: once,
    onKeyDown: (event) => {
      if (!isKey(event)) return;
      event.preventDefault();
      if (!event.repeat) once();
    },
  };
}

/**
 * What a hand works on a device. A push-button is held by holding pointer, Space or Enter; with Shift it
 * stays held until it is touched again, so that two can be held at once.
 */
export function Handle({
  act,
  device,
  verb,
  label,
  children,
}: {
  act: Act | undefined;
  device: Device;
  verb: Verb;
  label: string;
  children: ReactNode;
}) {
  const sprung = usePush(act, device.tag, verb === 'armature' ? verb : 'push');
  if (!act) return <g>{children}</g>;
  return (
    <g
      className="handle"
      role="button"
      tabIndex={0}
      aria-label={label}
      data-handle={`${device.tag} ${verb}`}
      {...(verb === 'push' || verb === 'armature' ? sprung : touching(act, device, verb))}
    >
      {children}
    </g>
  );
}
