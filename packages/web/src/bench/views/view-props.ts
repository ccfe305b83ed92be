import type { AttemptView } from '@contactum/contract';
import type { Act } from '../../board/Handle.js';
import type { LinkStore } from '../../board/link.js';
import type { PhysicalBoard } from '../physical-board.js';
import type { LiveProof } from '../use-proof.js';
import type { RecordedKit } from '../use-workplace.js';

export interface ViewProps {
  readonly kit: RecordedKit;
  readonly view: AttemptView;
  readonly link: LinkStore;
  /** Hands on the board; what they do is logged. */
  readonly act: Act;
  /** What the wiring can do so far; null where the exercise does not tell it. */
  readonly proof: LiveProof | null;
  /** The trainer board beside it; null where there are none. */
  readonly physical: PhysicalBoard | null;
}
