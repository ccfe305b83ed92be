import {
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
  type RefObject,
} from 'react';
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
} from '@dnd-kit/core';
import { useStore } from 'zustand';
import {
  addDevice,
  alignDevices,
  copyDevices,
  freshDevice,
  kindName,
  kindOf,
  moveDevices,
  nextTag,
  nudgeDevices,
  placeAt,
  railsOf,
  referenceBench,
  removeDevices,
  zoneOf,
  type BoardPlan,
  type Device,
  type DevicePlace,
  type DeviceType,
  type Habit,
  type Place,
} from '@contactum/core';
import { Board } from '../board/Board.js';
import { useLayout } from '../board/use-layout.js';
import { Palette } from './Palette.js';
import type { SetterStore } from './store.js';

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What is carried: a kind from the shelf, or devices of the board. */
type Carried = { readonly type: DeviceType } | { readonly tag: string };

/** Fits the board into the room that there is; leads and handles have one scale. */
function useFit(plan: BoardPlan) {
  const room = useRef<HTMLDivElement | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = room.current;
    if (!element) return undefined;
    const measure = () => {
      const scale = Math.min(element.clientWidth / plan.width, element.clientHeight / plan.height);
      setSize({ width: plan.width * scale, height: plan.height * scale });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [plan.width, plan.height]);
  return { room, size };
}

/** Adds a device of a kind at a place, or where its kind stands, and chooses it. */
function useShelf({ actions, ...store }: SetterStore, habit: Habit) {
  return (type: DeviceType, place?: Place): void => {
    const { exercise } = store.getState();
    const device = freshDevice(type, nextTag(exercise.bench.devices, type, habit), exercise.bench);
    actions.change(addDevice(exercise, device, place), [device.tag]);
  };
}

/** The board as it is built: devices from the shelf, dragged to rails and door, or moved by keyboard. */
export function BoardEditor({ store, habit }: { store: SetterStore; habit: Habit }) {
  const exercise = useStore(store, (state) => state.exercise);
  const bench = useMemo(() => referenceBench(exercise), [exercise]);
  const layout = useLayout(bench);
  const { plan } = layout;
  const { room, size } = useFit(plan);
  const add = useShelf(store, habit);
  const board = useRef<HTMLDivElement | null>(null);
  const { goal, kind, ...hands } = useCarrying({ store, plan, board, add });
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const onKeyDown = useBoardKeys(store, habit);
  return (
    <DndContext
      autoScroll={false}
      sensors={sensors}
      onDragStart={hands.onStart}
      onDragMove={hands.onMove}
      onDragEnd={hands.onEnd}
      onDragCancel={hands.onCancel}
    >
      <div className="board-editor">
        <Palette onAdd={add} />
        <div className="board-room" ref={room} onKeyDown={onKeyDown}>
          <div className="board-fit" style={size} ref={board}>
            <Board bench={bench} layout={layout} label={`Board with ${bench.devices.length} devices`} />
            {plan.devices.map((place) => (
              <Grip key={place.device.tag} place={place} plan={plan} store={store} />
            ))}
            {goal && <Goal plan={plan} devices={exercise.bench.devices} goal={goal} />}
          </div>
        </div>
      </div>
      <DragOverlay dropAnimation={null}>
        {kind && <span className="palette-kind carried">{kindOf({ type: kind }).name}</span>}
      </DragOverlay>
    </DndContext>
  );
}

/** Where what is carried would stand, and putting it there. */
function useCarrying({
  store,
  plan,
  board,
  add,
}: {
  store: SetterStore;
  plan: BoardPlan;
  board: RefObject<HTMLDivElement | null>;
  add: (type: DeviceType, place?: Place) => void;
}) {
  const [goal, setGoal] = useState<Place | null>(null);
  /** A kind from the shelf, which is shown under the pointer. */
  const [kind, setKind] = useState<DeviceType | null>(null);
  const placeOf = ({ active, activatorEvent, delta }: DragMoveEvent | DragEndEvent): Place | null => {
    const box = board.current?.getBoundingClientRect();
    const carried = active.data.current as Carried | undefined;
    if (!box || !carried || !(activatorEvent instanceof PointerEvent)) return null;
    const [px, py] = [
      activatorEvent.clientX + delta.x - box.left,
      activatorEvent.clientY + delta.y - box.top,
    ];
    if (px < 0 || py < -20 || px > box.width || py > box.height + 40) return null;
    const { bench } = store.getState().exercise;
    const device =
      'tag' in carried
        ? bench.devices.find(({ tag }) => tag === carried.tag)
        : freshDevice(carried.type, 'X', bench);
    const scale = plan.width / Math.max(1, box.width);
    return device ? placeAt(bench.devices, zoneOf(device), { x: px * scale, y: py * scale }) : null;
  };
  return {
    goal,
    kind,
    onStart: ({ active }: DragStartEvent) => {
      const carried = active.data.current as Carried | undefined;
      setKind(carried && 'type' in carried ? carried.type : null);
    },
    onMove: (event: DragMoveEvent) => setGoal(placeOf(event)),
    onCancel: () => {
      setGoal(null);
      setKind(null);
    },
    onEnd: (event: DragEndEvent) => {
      const place = placeOf(event);
      setGoal(null);
      setKind(null);
      const carried = event.active.data.current as Carried | undefined;
      if (!place || !carried) return;
      if ('type' in carried) {
        add(carried.type, place);
        return;
      }
      const { chosen } = store.getState();
      const tags = chosen.includes(carried.tag) ? chosen : [carried.tag];
      store.actions.change((exercise) => moveDevices(exercise, tags, place), tags);
    },
  };
}

/** A device that can be chosen and carried. */
function Grip({ place, plan, store }: { place: DevicePlace; plan: BoardPlan; store: SetterStore }) {
  const { device, x, y, width, height } = place;
  const { tag } = device;
  const isChosen = useStore(store, (state) => state.chosen.includes(tag));
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({
    id: `device ${tag}`,
    data: { tag },
  });
  const choose = (event: MouseEvent) => {
    const { chosen } = store.getState();
    const more = event.shiftKey || event.ctrlKey || event.metaKey;
    store.actions.choose(more ? (isChosen ? chosen.filter((one) => one !== tag) : [...chosen, tag]) : [tag]);
  };
  return (
    <button
      {...attributes}
      {...listeners}
      type="button"
      ref={setNodeRef}
      className="grip"
      data-tag={tag}
      data-dragging={isDragging ? 'yes' : undefined}
      aria-pressed={isChosen}
      aria-label={`${kindName(device)} ${tag}`}
      onClick={choose}
      style={{
        left: `${(100 * x) / plan.width}%`,
        top: `${(100 * y) / plan.height}%`,
        width: `${(100 * width) / plan.width}%`,
        height: `${(100 * height) / plan.height}%`,
        ...(transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : {}),
      }}
    />
  );
}

/** A bar where what is carried would stand. */
function Goal({ plan, devices, goal }: { plan: BoardPlan; devices: readonly Device[]; goal: Place }) {
  const rails = railsOf(devices);
  const rail =
    goal.zone === 'panel'
      ? rails.filter(({ zone }) => zone === 'panel')[goal.rail]
      : rails.find(({ zone }) => zone === goal.zone);
  const tags = rail?.tags ?? [];
  const at = (tag: string | undefined) => plan.devices.find(({ device }) => device.tag === tag);
  const [next, before] = [at(tags[goal.index]), at(tags[goal.index - 1])];
  const beside = next ?? before;
  const x = next ? next.x - 14 : before ? before.x + before.width + 10 : 30;
  const top = beside?.y ?? plan.height - 26;
  const height = beside?.height ?? 20;
  return (
    <span
      className="goal"
      aria-hidden="true"
      style={{
        left: `${(100 * x) / plan.width}%`,
        top: `${(100 * top) / plan.height}%`,
        height: `${(100 * height) / plan.height}%`,
      }}
    />
  );
}

/**
 * Everything that the mouse does with devices, by keyboard: arrows choose the next, with Alt they move;
 * Delete, Ctrl+D, Ctrl+A.
 */
function useBoardKeys({ actions, ...store }: SetterStore, habit: Habit) {
  return (event: KeyboardEvent<HTMLDivElement>): void => {
    const { chosen, exercise } = store.getState();
    const arrow = ARROWS[event.key];
    const own = (event.target as HTMLElement).dataset.tag;
    const tags = chosen.length > 0 ? chosen : own ? [own] : [];
    const command = event.ctrlKey || event.metaKey;
    if (arrow && event.altKey) actions.change((one) => nudgeDevices(one, tags, arrow), tags);
    else if (arrow && own) focusNext(event.currentTarget, own, arrow);
    else if (event.key === 'Delete' || event.key === 'Backspace')
      actions.change((one) => removeDevices(one, tags), []);
    else if (command && event.key.toLowerCase() === 'd') {
      const copied = copyDevices(exercise, tags, habit);
      actions.change(copied.exercise, copied.tags);
    } else if (command && event.key.toLowerCase() === 'a')
      actions.choose(exercise.bench.devices.map(({ tag }) => tag));
    else if (command && event.key.toLowerCase() === 'l')
      actions.change((one) => alignDevices(one, tags), tags);
    else if (event.key === 'Escape') actions.choose([]);
    else return;
    event.preventDefault();
  };
}

/** Goes to the device that lies nearest in a direction. */
function focusNext(board: HTMLElement, tag: string, [dx, dy]: readonly [number, number]): void {
  const grips = [...board.querySelectorAll<HTMLElement>('.grip')];
  const middle = (element: HTMLElement) => {
    const { left, top, width, height } = element.getBoundingClientRect();
    return { x: left + width / 2, y: top + height / 2 };
  };
  const from = grips.find((one) => one.dataset.tag === tag);
  if (!from) return;
  const start = middle(from);
  const away = (element: HTMLElement): number => {
    const { x, y } = middle(element);
    const along = (x - start.x) * dx + (y - start.y) * dy;
    const across = Math.abs((x - start.x) * dy) + Math.abs((y - start.y) * dx);
    return along > 4 ? along + 2 * across : Number.POSITIVE_INFINITY;
  };
  const [next] = grips
    .filter((one) => away(one) < Number.POSITIVE_INFINITY)
    .sort((a, b) => away(a) - away(b));
  next?.focus();
}
