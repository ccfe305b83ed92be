import { useEffect, useRef, useState } from 'react';
import { PoweroffOutlined, QuestionCircleOutlined, RedoOutlined, UndoOutlined } from '@ant-design/icons';
import { Button, Input, Tooltip, type InputRef } from 'antd';
import { useStore } from 'zustand';
import { LEAD_COLOURS } from '../board/colours.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';
import { TYPED_HELP } from './typed.js';

/** Above the board: lead colours, undo, typed wiring, what is stored, and the supply. */
export function Toolbar({
  store,
  live,
  onTyped,
  onSupply,
}: {
  store: BenchStore;
  live: LiveBench;
  onTyped: (line: string) => boolean;
  onSupply: (on: boolean) => void;
}) {
  const colour = useStore(store, (state) => state.colour);
  const selected = useStore(store, (state) => state.selected);
  const undo = useStore(store, (state) => state.undo.length);
  const redo = useStore(store, (state) => state.redo.length);
  const unsaved = useStore(store, (state) => state.unsaved);
  const saveError = useStore(store, (state) => state.saveError);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const { actions } = store;
  const [line, setLine] = useState('');
  const input = useRef<InputRef>(null);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (event.key === '/' && !typing) {
        event.preventDefault();
        input.current?.focus();
      }
      if (!(event.ctrlKey || event.metaKey) || typing) return;
      if (event.key === 'z' && !event.shiftKey) actions.undo();
      else if (event.key === 'y' || (event.key.toLowerCase() === 'z' && event.shiftKey)) actions.redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [actions]);

  return (
    <div className="toolbar" role="toolbar" aria-label="Wiring tools">
      <div className="swatches" role="radiogroup" aria-label="Colour of the next lead">
        {LEAD_COLOURS.map((one) => (
          <Tooltip key={one.name} title={`${one.name}: ${one.use}`}>
            <button
              type="button"
              role="radio"
              aria-checked={colour === one.name}
              aria-label={`${one.name}, ${one.use}`}
              className="swatch-button"
              style={{
                background: one.stripe
                  ? `repeating-linear-gradient(45deg, ${one.paint} 0 6px, ${one.stripe} 6px 12px)`
                  : one.paint,
              }}
              onClick={() => {
                actions.patch({ colour: one.name });
                if (selected !== null) actions.recolour(selected, one.name);
              }}
            />
          </Tooltip>
        ))}
      </div>
      <Tooltip title="Undo (Ctrl+Z)">
        <Button
          icon={<UndoOutlined />}
          aria-label="Undo"
          disabled={undo === 0 || supplyOn}
          onClick={actions.undo}
        />
      </Tooltip>
      <Tooltip title="Redo (Ctrl+Y)">
        <Button
          icon={<RedoOutlined />}
          aria-label="Redo"
          disabled={redo === 0 || supplyOn}
          onClick={actions.redo}
        />
      </Tooltip>
      <Input
        ref={input}
        className="typed mono"
        value={line}
        placeholder="KM1 13 > S2 13"
        aria-label="Type a lead, for example KM1 13 > S2 13"
        suffix={
          <Tooltip title={TYPED_HELP} placement="bottomRight" styles={{ root: { maxWidth: 420 } }}>
            <QuestionCircleOutlined aria-label={TYPED_HELP} tabIndex={0} />
          </Tooltip>
        }
        onChange={({ target }) => setLine(target.value)}
        onPressEnter={() => {
          if (line.trim() && onTyped(line)) setLine('');
        }}
      />
      <span
        className="stored"
        role="status"
        data-state={saveError ? 'wrong' : unsaved > 0 ? 'busy' : 'stored'}
      >
        {saveError ? 'Not stored, trying again' : unsaved > 0 ? 'Storing…' : 'Stored'}
      </span>
      <Button
        className={`supply ${supplyOn ? 'on' : 'off'}`}
        type={supplyOn ? 'default' : 'primary'}
        icon={<PoweroffOutlined />}
        aria-pressed={supplyOn}
        onClick={() => onSupply(!supplyOn)}
      >
        {supplyOn ? 'Supply is on: switch off' : 'Supply is off: switch on'}
      </Button>
    </div>
  );
}
