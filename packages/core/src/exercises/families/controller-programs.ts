/** Programs of the shipped exercises, as structured text (common practice, no source). */

const INPUTS = `
  Stop AT %IX0.0 : BOOL; (* S1, wired NC *)
  Start AT %IX0.1 : BOOL; (* S2 *)
  Trip AT %IX0.2 : BOOL; (* F2 95-96: on while it is healthy *)`;

const REPORTED = `  Stop AT %IX0.0 : BOOL; (* S1, wired NC *)
  Start AT %IX0.1 : BOOL; (* S2 *)
  Trip AT %IX0.2 : BOOL; (* F2 95-96 *)
  Runs AT %IX0.3 : BOOL; (* KM1 13-14 reports *)`;

const HARROW_INPUTS = `  Stop AT %IX0.0 : BOOL; (* S1, wired NC *)
  Forward AT %IX0.1 : BOOL; (* S2 *)
  Reverse AT %IX0.2 : BOOL; (* S3 *)
  Trip AT %IX0.3 : BOOL; (* F2 95-96 *)
  Ahead AT %IX0.4 : BOOL; (* KM1 13-14 reports *)
  Back AT %IX0.5 : BOOL; (* KM2 13-14 reports *)`;

const HARROW_OUTPUTS = `  GoAhead AT %QX0.0 : BOOL; (* KM1 *)
  GoBack AT %QX0.1 : BOOL; (* KM2 *)`;

export const PUMP = `(* Brine pump *)
PROGRAM Pump
VAR${INPUTS}
  Runs AT %IX0.3 : BOOL; (* KM1 13-14 reports *)
  Pump AT %QX0.0 : BOOL; (* KM1 *)
END_VAR
(* Rung 1: seals by what the contactor reports *)
Pump := Stop AND Trip AND (Start OR Runs);
END_PROGRAM`;

export const OPEN_LOOP = `(* Brine pump, open loop *)
PROGRAM Pump
VAR${INPUTS}
  Pump AT %QX0.0 : BOOL; (* KM1 *)
END_VAR
(* Rung 1: seals by its own output *)
Pump := Stop AND Trip AND (Start OR Pump);
END_PROGRAM`;

export const HARROW = `(* Salt harrow *)
PROGRAM Harrow
VAR
${HARROW_INPUTS}
${HARROW_OUTPUTS}
END_VAR
(* Rung 1: forward *)
GoAhead := Stop AND Trip AND (Forward OR Ahead) AND NOT GoBack AND NOT Back;
(* Rung 2: reverse *)
GoBack := Stop AND Trip AND (Reverse OR Back) AND NOT GoAhead AND NOT Ahead;
END_PROGRAM`;

export const BLOWER = `(* Wash-water blower *)
PROGRAM Blower
VAR
${REPORTED}
  Main AT %QX0.0 : BOOL; (* KM1 *)
  Delta AT %QX0.1 : BOOL; (* KM2 *)
  Star AT %QX0.2 : BOOL; (* KM3 *)
  Starting : TON; (* run-up in star *)
  Pause : TON; (* between star and delta *)
END_VAR
(* Rung 1: main contactor *)
Main := Stop AND Trip AND (Start OR Runs);
(* Rung 2: time in star *)
Starting(IN := Main, PT := T#6s);
(* Rung 3: star *)
Star := Main AND NOT Starting.Q AND NOT Delta;
(* Rung 4: pause *)
Pause(IN := Starting.Q, PT := T#50ms);
(* Rung 5: delta *)
Delta := Main AND Pause.Q AND NOT Star;
END_PROGRAM`;

export const RESTS = `(* Brine pump, three starts and a rest *)
PROGRAM Pump
VAR${INPUTS}
  Runs AT %IX0.3 : BOOL; (* KM1 13-14 reports *)
  Pump AT %QX0.0 : BOOL; (* KM1 *)
  Starts : CTU; (* since the last rest *)
  Rest : TON;
END_VAR
(* Rung 1: no fourth start before it has rested *)
Pump := Stop AND Trip AND ((Start AND NOT Starts.Q) OR Runs);
(* Rung 2: counts its starts *)
Starts(CU := Runs, R := Rest.Q, PV := 3);
(* Rung 3: rests *)
Rest(IN := NOT Runs, PT := T#20s);
END_PROGRAM`;

export const JOG = `(* Sluice gate: jog or run *)
PROGRAM Jog
VAR
  Stop AT %IX0.0 : BOOL; (* S1, wired NC *)
  Start AT %IX0.1 : BOOL; (* S2 *)
  Jog AT %IX0.2 : BOOL; (* S3 *)
  Trip AT %IX0.3 : BOOL; (* F2 95-96 *)
  Runs AT %IX0.4 : BOOL; (* KM1 13-14 reports *)
  Gate AT %QX0.0 : BOOL; (* KM1 *)
  Ready : BOOL;
  Holds : BOOL;
  Edge1 : R_TRIG;
END_VAR
(* Rung 1: Start counts where nothing stops *)
Ready := Start AND Stop AND Trip;
(* Rung 2: Start holds while the contactor reports, until somebody jogs *)
Edge1(CLK := Ready);
Holds := Stop AND Trip AND NOT Jog AND (Edge1.Q OR Holds) AND (Start OR Runs);
(* Rung 3: the gate *)
Gate := Stop AND Trip AND (Jog OR Holds);
END_PROGRAM`;

export const ESTOP = `(* Brine pump, two stations and an emergency stop *)
PROGRAM Pump
VAR
${REPORTED}
  Far AT %IX0.4 : BOOL; (* S4, start at the far station *)
  Pump AT %QX0.0 : BOOL; (* KM1 *)
END_VAR
(* Rung 1: what is cut off by the emergency stop reports nothing, and does not start again *)
Pump := Stop AND Trip AND (Start OR Far OR Runs);
END_PROGRAM`;

export const HARROW_LIMITS = `(* Salt harrow with limit switches *)
PROGRAM Harrow
VAR
${HARROW_INPUTS}
  EndAhead AT %IX0.6 : BOOL; (* SQ1 21-22: off at the forward end *)
  EndBack AT %IX0.7 : BOOL; (* SQ2 21-22: off at the other end *)
${HARROW_OUTPUTS}
END_VAR
(* Rung 1: forward, as far as the end *)
GoAhead := Stop AND Trip AND EndAhead AND (Forward OR Ahead) AND NOT GoBack AND NOT Back;
(* Rung 2: reverse, as far as the end *)
GoBack := Stop AND Trip AND EndBack AND (Reverse OR Back) AND NOT GoAhead AND NOT Ahead;
END_PROGRAM`;
