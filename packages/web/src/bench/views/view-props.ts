import type { AttemptView } from '@contactum/contract';
import type { LinkStore } from '../../board/link.js';
import type { Kit } from '../use-workplace.js';

export interface ViewProps {
  readonly kit: Kit;
  readonly view: AttemptView;
  readonly link: LinkStore;
}
