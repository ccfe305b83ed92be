import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import type { Device, Stimulus } from '@contactum/core';

/** Gives the bench a stimulus; `stateOf` says what a device is doing at this moment. */
export interface Act {
  readonly give: (stimulus: Stimulus) => void;
  readonly stateOf: (tag: string) => string;
}

type Verb = 'push' | 'latch' | 'turn' | 'toggle' | 'supply' | 'trip' | 'reset';

function toggled(device: Device, state: string): Stimulus | null {
  const { tag } = device;
  switch (device.type) {
    case 'estop':
    case 'limit-switch':
      return state === 'pressed' ? { release: tag } : { press: tag };
    case 'selector': {
      const { positions } = device.options;
      const next = positions[(positions.indexOf(state) + 1) % positions.length];
      return next === undefined ? null : { turn: tag, to: next };
    }
    case 'breaker':
    case 'fuse':
    case 'disconnector':
    case 'supply-3n':
    case 'supply-1n':
    case 'supply-dc':
      if (state === 'tripped' || state === 'blown') return { reset: tag };
      return state === 'open' ? { close: tag } : { open: tag };
    default:
      return null;
  }
}

/** A hand is never quicker than a plunger: the shortest push, milliseconds. */
const SHORTEST_PUSH = 80;

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
  const held = useRef(false);
  const pushedAt = useRef(0);
  if (!act) return <g>{children}</g>;
  const { tag } = device;
  const press = (sticky: boolean) => {
    if (held.current) {
      held.current = false;
      act.give({ release: tag });
      return;
    }
    held.current = sticky;
    pushedAt.current = performance.now();
    act.give({ press: tag });
  };
  const letGo = () => {
    if (held.current || act.stateOf(tag) === '') return;
    const early = pushedAt.current + SHORTEST_PUSH - performance.now();
    if (early <= 0) act.give({ release: tag });
    else setTimeout(() => act.give({ release: tag }), early);
  };
  const once = () => {
    const stimulus: Stimulus | null =
      verb === 'trip' ? { trip: tag } : verb === 'reset' ? { reset: tag } : toggled(device, act.stateOf(tag));
    if (stimulus) act.give(stimulus);
  };
  const isKey = (event: KeyboardEvent) => event.key === ' ' || event.key === 'Enter';
  const pushed =
    verb === 'push'
      ? {
          onPointerDown: (event: PointerEvent<SVGGElement>) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            press(event.shiftKey);
          },
          onPointerUp: letGo,
          onPointerCancel: letGo,
          onKeyDown: (event: KeyboardEvent) => {
            if (!isKey(event)) return;
            event.preventDefault();
            if (!event.repeat) press(event.shiftKey);
          },
          onKeyUp: (event: KeyboardEvent) => {
            if (isKey(event)) letGo();
          },
          onBlur: () => {
            if (!held.current && act.stateOf(tag) === 'pressed') act.give({ release: tag });
          },
        }
      : {
          onClick: once,
          onKeyDown: (event: KeyboardEvent) => {
            if (!isKey(event)) return;
            event.preventDefault();
            if (!event.repeat) once();
          },
        };
  return (
    <g
      className="handle"
      role="button"
      tabIndex={0}
      aria-label={label}
      data-handle={`${tag} ${verb}`}
      {...pushed}
    >
      {children}
    </g>
  );
}
