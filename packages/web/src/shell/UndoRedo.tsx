import { RedoOutlined, UndoOutlined } from '@ant-design/icons';
import { Button, Tooltip } from 'antd';

/** One step back, and forward again. */
export function UndoRedo({
  undo,
  redo,
  small = false,
}: {
  /** Null where there is nothing to take back. */
  undo: (() => void) | null;
  redo: (() => void) | null;
  small?: boolean;
}) {
  const steps = [
    { label: 'Undo', keys: 'Ctrl+Z', icon: <UndoOutlined />, step: undo },
    { label: 'Redo', keys: 'Ctrl+Y', icon: <RedoOutlined />, step: redo },
  ];
  return steps.map(({ label, keys, icon, step }) => (
    <Tooltip key={label} title={`${label} (${keys})`}>
      <Button
        {...(small ? { size: 'small' as const } : {})}
        icon={icon}
        aria-label={label}
        disabled={step === null}
        onClick={() => step?.()}
      />
    </Tooltip>
  ));
}
