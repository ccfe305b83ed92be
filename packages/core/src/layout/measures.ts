/** Board millimetres: about the board, from lead to lead, and from a duct's edge to its first lead. */
export const BOARD_EDGE = 34;

/** Least room between devices of a row: leads pass there. */
export const DEVICE_GAP = 30;

/** Between panel and door: the cable loop. */
export const HINGE = 46;
