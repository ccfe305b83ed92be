import { Button, Tooltip } from 'antd';
import { RedoOutlined, UndoOutlined } from '@ant-design/icons';
import { useStore } from 'zustand';
import type { SetterStore } from './store.js';

/** One step back, and forward again. */
export function UndoRedo({ store }: { store: SetterStore }) {
  const undo = useStore(store, (state) => state.undo.length);
  const redo = useStore(store, (state) => state.redo.length);
  const { actions } = store;
  return (
    <span className="hand-row">
      <Tooltip title="Undo (Ctrl+Z)">
        <Button
          size="small"
          icon={<UndoOutlined />}
          aria-label="Undo"
          disabled={undo === 0}
          onClick={actions.undo}
        />
      </Tooltip>
      <Tooltip title="Redo (Ctrl+Y)">
        <Button
          size="small"
          icon={<RedoOutlined />}
          aria-label="Redo"
          disabled={redo === 0}
          onClick={actions.redo}
        />
      </Tooltip>
    </span>
  );
}
