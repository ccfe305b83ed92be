import { useDraggable } from '@dnd-kit/core';
import { kindOf, type DeviceType } from '@contactum/core';

/** The shelf by what devices are for. */
const SHELF: readonly { readonly title: string; readonly types: readonly DeviceType[] }[] = [
  { title: 'Supply', types: ['supply-3n', 'supply-1n', 'supply-dc', 'transformer'] },
  { title: 'Protection', types: ['breaker', 'fuse', 'disconnector', 'overload'] },
  { title: 'Magnets', types: ['contactor', 'relay', 'timer', 'star-delta-timer'] },
  { title: 'Door', types: ['pushbutton', 'estop', 'selector', 'lamp', 'buzzer'] },
  { title: 'Machine', types: ['motor-3', 'motor-1', 'limit-switch', 'brake'] },
  { title: 'Other', types: ['plc', 'terminal-strip', 'busbar', 'impedance'] },
];

const NAMES: Readonly<Partial<Record<DeviceType, string>>> = {
  'supply-3n': 'Three-phase',
  'supply-1n': 'Single-phase',
  'supply-dc': 'DC supply',
  'motor-3': 'Motor, 3-phase',
  'motor-1': 'Motor, 1-phase',
  'star-delta-timer': 'Star-delta timer',
  plc: 'Controller',
};

/** What can be put on a board: dragged to its place, or put there by a click. */
export function Palette({ onAdd }: { onAdd: (type: DeviceType) => void }) {
  return (
    <aside className="palette" aria-label="Devices">
      {SHELF.map(({ title, types }) => (
        <section key={title}>
          <h3>{title}</h3>
          {types.map((type) => (
            <Kind key={type} type={type} onAdd={onAdd} />
          ))}
        </section>
      ))}
    </aside>
  );
}

function Kind({ type, onAdd }: { type: DeviceType; onAdd: (type: DeviceType) => void }) {
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: `shelf ${type}`,
    data: { type },
  });
  return (
    <button
      {...attributes}
      {...listeners}
      ref={setNodeRef}
      type="button"
      className="palette-kind"
      data-dragging={isDragging ? 'yes' : undefined}
      onClick={() => onAdd(type)}
    >
      {NAMES[type] ?? kindOf({ type }).name}
    </button>
  );
}
