/**
 * One thing done to a bench, in the shape in which scripts, traces and counterexamples write it. `first`
 * names armatures and plungers in the order in which they arrive where several move together, one name an
 * arrival; what is not named arrives by its own travel time.
 */
export type Stimulus = Act & { readonly first?: readonly string[] | undefined };

export type Act =
  | { readonly press: string }
  | { readonly release: string }
  | { readonly turn: string; readonly to: string }
  | { readonly open: string }
  | { readonly close: string }
  | { readonly lose: string; readonly phase: string }
  | { readonly restore: string; readonly phase: string }
  | { readonly trip: string }
  | { readonly reset: string }
  | { readonly set: string; readonly to: number | string | boolean }
  | { readonly wait: number }
  | { readonly pushIn: string }
  | { readonly letOut: string }
  | { readonly elapse: string }
  | { readonly inject: WrittenFault }
  | { readonly clear: WrittenFault }
  | { readonly together: readonly Stimulus[] };

/** A fault as documents write it: its kind with its place, and further keys; `faults` knows what it means. */
export type WrittenFault = Readonly<Record<string, unknown>>;
