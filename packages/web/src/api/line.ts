/** How a line tells what becomes of it. */
export interface LineEnds<News> {
  readonly hear: (news: News) => void;
  readonly opened?: () => void;
  /** Ended, closed or lost. */
  readonly ended?: () => void;
  /** Lost, not closed: it is going to be opened again. */
  readonly lost?: () => void;
  /** Milliseconds before a lost line is tried again: first, and at most. */
  readonly pauses: readonly [first: number, longest: number];
}

/**
 * A live line to the server: opened at once, and opened again when it is lost, after pauses that grow while
 * it goes on being lost.
 */
export class ServerLine<Says, News> {
  private socket: WebSocket | null = null;
  private pause: number;
  private closed = false;

  /** @param path address below `/api` */
  constructor(
    private readonly path: string,
    private readonly ends: LineEnds<News>,
  ) {
    [this.pause] = ends.pauses;
    this.open();
  }

  get isOpen(): boolean {
    return this.socket?.readyState === WebSocket.OPEN;
  }

  /** Says something; false where the line is not open. */
  say(says: Says): boolean {
    if (this.socket?.readyState !== WebSocket.OPEN) return false;
    this.socket.send(JSON.stringify(says));
    return true;
  }

  /** It is worth having: once it is lost, the next pause is the first one again. */
  steady(): void {
    [this.pause] = this.ends.pauses;
  }

  /** Ends what is there, to be opened anew. */
  reopen(): void {
    this.socket?.close();
  }

  close(): void {
    this.closed = true;
    this.socket?.close();
  }

  private open(): void {
    const socket = new WebSocket(`${window.location.origin.replace(/^http/, 'ws')}/api${this.path}`);
    this.socket = socket;
    socket.onopen = () => this.ends.opened?.();
    socket.onmessage = ({ data }) => this.ends.hear(JSON.parse(String(data)) as News);
    socket.onclose = () => {
      this.ends.ended?.();
      if (this.closed) return;
      this.ends.lost?.();
      setTimeout(() => !this.closed && this.open(), this.pause);
      this.pause = Math.min(this.ends.pauses[1], this.pause * 1.6);
    };
  }
}
