import type { Rules } from '../../marking/index.js';

/** What exercises with a controller share. */

/** What every house asks of such a board (common practice, no source). */
export const RULES: Rules = {
  coilReturnUnswitched: true,
  fusedControl: true,
  contactDuty: true,
  overloadReset: 'manual',
  earthBonded: true,
  maxWiresPerTerminal: 2,
  plcStopsNormallyClosed: true,
};

/** Fuse, common of the outputs, coil. */
export const OUTPUT = '{feed}\ncontrol: F1 2 > A1 QC1; A1 Q0.0 > KM1 A1\nreturn: KM1 A2 > {return}';
/** The electronics and the common of the inputs. */
export const ELECTRONICS = 'minus: G2 - > A1 M; A1 M > A1 IC\nplus: G2 + > A1 L+; A1 L+ > S1 21';
export const STOP_START_TRIP = `${ELECTRONICS}; S1 22 > A1 I0.0; S1 21 > S2 13; S2 14 > A1 I0.1; S2 13 > F2 95; F2 96 > A1 I0.2`;
export const REPORT = 'F2 95 > KM1 13; KM1 14 > A1 I0.3';

export const FAULTS = [
  'input-dead A1:I0.1 | Input of Start is dead',
  'open-wire S1:22 A1:I0.0 | Lead of Stop broken',
  'contact-stuck-closed A1:QC1-Q0.0 | Output welded',
  'plc-stopped A1 | Controller left in stop',
  'blown-fuse F1 | Fuse of the outputs blown',
  'contact-stuck-closed KM1:13-14 | Report of KM1 stuck',
];
