/** Numbered states of mechanisms: what the closed-in tables of contacts are indexed by. */

/** Everything with two positions: at rest, operated, and on the way between. */
export const REST = 0;
export const OPERATED = 1;
/** Travelling towards operated, and back to rest: every contact is open. */
export const ARRIVING = 2;
export const RETURNING = 3;
/** Coil already dead, armature not yet moving: contacts as operated. */
export const LETTING_GO = 4;

/** An electronic overload relay without its supply: its contacts stand as if it had tripped. */
export const UNPOWERED = 4;

/** Breaker, fuse, disconnector. */
export const CLOSED = 0;
export const OPEN = 1;
export const TRIPPED = 2;

/** Delay timers. Off-delay timers are TIMER_DONE while energised and TIMER_TIMING after release. */
export const TIMER_IDLE = 0;
export const TIMER_TIMING = 1;
export const TIMER_DONE = 2;
export const TIMER_TO_DONE = 3;
export const TIMER_TO_IDLE = 4;
export const TIMER_PAUSE = 5;

/** Supply states are bits: a lost phase each, switched off, tripped. */
export const SUPPLY_OPEN = 8;
export const SUPPLY_TRIPPED = 16;

/** A filament or winding that has burnt through. */
export const INTACT = 0;
export const BURNT = 1;
