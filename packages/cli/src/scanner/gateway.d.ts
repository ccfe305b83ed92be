export interface GatewayOptions {
  /** `HOST[:PORT]` of the scanner. */
  readonly address: string;
  /** The server, `https://board.college.example`. */
  readonly server: string;
  readonly token: string;
  /** Told what happens, in words. */
  readonly say?: (words: string) => void;
  readonly until: AbortSignal;
}
/**
 * Stands between a scanner and the server: reads the board without end and tells what it finds over one
 * outgoing line, so that the server needs no door into the lab. The permit relay is closed only while the
 * server permits the reading that the board still has; a change, a fault, a lost line or a silent gateway
 * opens it.
 */
export declare class Gateway {
  private readonly options;
  private socket;
  private scanner;
  private names;
  private serial;
  private joined;
  private doubtful;
  private poor;
  private faults;
  /** Counts what changes; later gateways of the same scanner begin higher. */
  private number;
  private permitted;
  private isClosed;
  private beat;
  private turn;
  constructor(options: GatewayOptions);
  /** Works until it is told to stop. */
  run(): Promise<void>;
  private say;
  private keepReading;
  /** Reads a board until the box fails, or something is wrong with it. */
  private readBoard;
  /** Keeps what was found, and tells it where it is new. */
  private found;
  /** What is known of the board, as one text. */
  private get known();
  private failed;
  private changed;
  /** Closes or opens the relay as it should be now; one after the other. */
  private relay;
  private setRelay;
  private release;
  private pulse;
  private get isConnected();
  private tell;
  /** One outgoing line to the server, opened again whenever it is lost. */
  private keepLine;
  private openLine;
}
