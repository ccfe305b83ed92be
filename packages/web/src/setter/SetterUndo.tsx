import { useStore } from 'zustand';
import { UndoRedo } from '../shell/UndoRedo.js';
import type { SetterStore } from './store.js';

/** Undo and redo of a draft. */
export function SetterUndo({ store }: { store: SetterStore }) {
  const canUndo = useStore(store, ({ undo }) => undo.length > 0);
  const canRedo = useStore(store, ({ redo }) => redo.length > 0);
  return (
    <span className="hand-row">
      <UndoRedo small undo={canUndo ? store.actions.undo : null} redo={canRedo ? store.actions.redo : null} />
    </span>
  );
}
