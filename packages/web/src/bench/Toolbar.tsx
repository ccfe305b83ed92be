import { useEffect, useId, useRef, useState, type KeyboardEvent as KeyPress } from 'react';
import { PoweroffOutlined, QuestionCircleOutlined } from '@ant-design/icons';
import { Button, Input, Tooltip } from 'antd';
import { useStore } from 'zustand';
import { paletteOf, type LeadColour } from '../board/colours.js';
import { UndoRedo } from '../shell/UndoRedo.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';
import './toolbar.css';
import { TYPED_HELP, completions } from './typed.js';

const paintOf = ({ paint, stripe }: LeadColour): string =>
  stripe ? `repeating-linear-gradient(45deg, ${paint} 0 6px, ${stripe} 6px 12px)` : paint;

const saidOf = ({ name, use }: { readonly name: string; readonly use: string }): string =>
  use ? `${name}, ${use}` : name;

/** Colour of the next lead, and of the chosen one. */
function Swatches({ store }: { store: BenchStore }) {
  const colour = useStore(store, (state) => state.colour);
  const scheme = useStore(store, (state) => state.scheme);
  const selected = useStore(store, (state) => state.selected);
  const auto = useStore(store, (state) => state.auto);
  const { actions } = store;
  const choose = (name: string) => {
    actions.patch({ colour: name, auto: false });
    if (selected !== null) actions.recolour(selected, name);
  };
  return (
    <div className="swatches" role="radiogroup" aria-label="Colour of the next lead">
      <Tooltip title="Colour and area by the circuit in which a lead lies">
        <button
          type="button"
          role="radio"
          aria-checked={auto}
          aria-label="Automatic: colour and area by the circuit in which a lead lies"
          className="swatch-button swatch-auto"
          onClick={() => actions.patch({ auto: true })}
        >
          A
        </button>
      </Tooltip>
      {paletteOf(scheme).map((one) => (
        <Tooltip key={one.name} title={saidOf(one)}>
          <button
            type="button"
            role="radio"
            aria-checked={!auto && colour === one.name}
            aria-label={saidOf(one)}
            className="swatch-button"
            style={{ background: paintOf(one) }}
            onClick={() => choose(one.name)}
          />
        </Tooltip>
      ))}
    </div>
  );
}

function BenchUndo({ store, supplyOn }: { store: BenchStore; supplyOn: boolean }) {
  const canUndo = useStore(store, (state) => state.undo.length > 0 && !supplyOn);
  const canRedo = useStore(store, (state) => state.redo.length > 0 && !supplyOn);
  const { undo, redo } = store.actions;
  return <UndoRedo undo={canUndo ? undo : null} redo={canRedo ? redo : null} />;
}

/** Undo and redo from anywhere on the page, and `/` for the line that is typed. */
function useShortcuts({ actions }: BenchStore, focus: () => void) {
  const focusing = useRef(focus);
  useEffect(() => {
    focusing.current = focus;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (event.key === '/' && !typing) {
        event.preventDefault();
        focusing.current();
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
}

function TypedLine({ store, onTyped }: { store: BenchStore; onTyped: (line: string) => boolean }) {
  const [line, setLine] = useState('');
  const [isOpen, setOpen] = useState(false);
  const bench = useStore(store, (state) => state.bench);
  const input = useRef<HTMLInputElement | null>(null);
  const [chosen, setChosen] = useState(-1);
  const list = useId();
  useShortcuts(store, () => input.current?.focus());
  const offered = isOpen ? completions(bench, line) : [];
  const write = (text: string) => {
    setLine(text);
    setOpen(true);
    setChosen(-1);
  };
  const onKeyDown = (event: KeyPress<HTMLInputElement>) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const taken = offered[chosen] ?? (event.key === 'Tab' ? offered[0] : undefined);
    if (step && offered.length > 0) setChosen((chosen + step + offered.length) % offered.length);
    else if ((event.key === 'Enter' || event.key === 'Tab') && taken !== undefined && taken !== line)
      write(taken);
    else if (event.key === 'Escape') setOpen(false);
    else if (event.key === 'Enter' && line.trim()) {
      if (onTyped(line)) setLine('');
      setOpen(false);
      return;
    } else return;
    event.preventDefault();
  };
  return (
    <span className="typed">
      <Input
        ref={(element) => {
          input.current = element?.input ?? null;
        }}
        className="mono"
        value={line}
        placeholder="KM1 13 > S2 13"
        role="combobox"
        aria-label="Type a lead, for example KM1 13 > S2 13"
        aria-expanded={offered.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        {...(chosen >= 0 ? { 'aria-activedescendant': `${list}-${chosen}` } : {})}
        suffix={
          <Tooltip title={TYPED_HELP} placement="bottomRight" styles={{ root: { maxWidth: 420 } }}>
            <QuestionCircleOutlined aria-label={TYPED_HELP} tabIndex={0} />
          </Tooltip>
        }
        onChange={({ target }) => write(target.value)}
        onKeyDown={onKeyDown}
        onBlur={() => setOpen(false)}
      />
      <Offers id={list} offered={offered} chosen={chosen} onTake={write} />
    </span>
  );
}

/** What a typed line may go on with. */
function Offers({
  id,
  offered,
  chosen,
  onTake,
}: {
  id: string;
  offered: readonly string[];
  chosen: number;
  onTake: (text: string) => void;
}) {
  return (
    <ul id={id} role="listbox" aria-label="Terminals" className="typed-offers" hidden={offered.length === 0}>
      {offered.map((text, k) => (
        <li
          key={text}
          id={`${id}-${k}`}
          role="option"
          aria-selected={k === chosen}
          onPointerDown={(event) => {
            event.preventDefault();
            onTake(text);
          }}
        >
          {text}
        </li>
      ))}
    </ul>
  );
}

/** Whether the server has everything. */
function Stored({ store }: { store: BenchStore }) {
  const unsaved = useStore(store, (state) => state.unsaved);
  const saveError = useStore(store, (state) => state.saveError);
  const state = saveError ? 'wrong' : unsaved > 0 ? 'busy' : 'stored';
  const words = { wrong: 'Not saved, trying again', busy: 'Saving…', stored: 'Saved' };
  return (
    <span className="stored" role="status" data-state={state}>
      {words[state]}
    </span>
  );
}

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
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  return (
    <div className="toolbar" role="toolbar" aria-label="Wiring tools">
      <Swatches store={store} />
      <BenchUndo store={store} supplyOn={supplyOn} />
      <TypedLine store={store} onTyped={onTyped} />
      <Stored store={store} />
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
