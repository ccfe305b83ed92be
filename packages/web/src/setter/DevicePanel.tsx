import { useState } from 'react';
import { CopyOutlined, DeleteOutlined } from '@ant-design/icons';
import { Alert, Button, Checkbox, Input, Segmented, Select, Tooltip } from 'antd';
import { useStore } from 'zustand';
import {
  plural,
  isContactor,
  DUTIES,
  alignDevices,
  anatomy,
  completed,
  copyDevices,
  kindName,
  kindOf,
  removeDevices,
  renumber,
  replaceDevice,
  retag,
  unplaced,
  type AnyDevice,
  type Device,
  type Exercise,
  type Habit,
} from '@contactum/core';
import { FieldForm } from './FieldForm.js';
import { ProgramField } from './ProgramDialog.js';
import type { SetterStore } from './store.js';

const DUTY_NAMES: Readonly<Record<(typeof DUTIES)[number], string>> = {
  start: 'Start',
  stop: 'Stop',
  'emergency-stop': 'Emergency stop',
  forward: 'Forward',
  reverse: 'Reverse',
  jog: 'Jog',
  limit: 'Limit',
};

/** Selection on the board, as a form made from its record; or what can be done with the whole board. */
export function DevicePanel({
  store,
  habit,
  onHabit,
}: {
  store: SetterStore;
  habit: Habit;
  onHabit: (habit: Habit) => void;
}) {
  const exercise = useStore(store, (state) => state.exercise);
  const chosen = useStore(store, (state) => state.chosen);
  const devices = exercise.bench.devices.filter(({ tag }) => chosen.includes(tag));
  const [device] = devices;
  if (!device) return <WholeBoard store={store} exercise={exercise} habit={habit} onHabit={onHabit} />;
  return (
    <div className="device-panel">
      <div className="hand-row">
        <Tooltip title="Duplicate (Ctrl+D)">
          <Button
            size="small"
            icon={<CopyOutlined />}
            onClick={() => {
              const copied = copyDevices(exercise, chosen, habit);
              store.actions.change(copied.exercise, copied.tags);
            }}
          >
            Copy
          </Button>
        </Tooltip>
        <Tooltip title="Remove (Delete)">
          <Button
            size="small"
            icon={<DeleteOutlined />}
            onClick={() => store.actions.change((one) => removeDevices(one, chosen), [])}
          >
            Remove
          </Button>
        </Tooltip>
        {devices.length > 1 && (
          <Tooltip title="Side by side on the rail of the first (Ctrl+L)">
            <Button
              size="small"
              onClick={() => store.actions.change((one) => alignDevices(one, chosen), chosen)}
            >
              Align
            </Button>
          </Tooltip>
        )}
      </div>
      {devices.length > 1 ? (
        <p className="quiet">
          {plural(devices.length, 'device')} chosen: {chosen.join(', ')}
        </p>
      ) : (
        <OneDevice key={device.tag} device={device} exercise={exercise} store={store} />
      )}
    </div>
  );
}

function OneDevice({ device, exercise, store }: { device: Device; exercise: Exercise; store: SetterStore }) {
  const kind = kindOf(device);
  const plain = device as AnyDevice;
  const motors = exercise.bench.devices.filter((one) => anatomy(one).motor).map(({ tag }) => tag);
  const change = (to: Partial<AnyDevice>) =>
    store.actions.change((one) => replaceDevice(one, completed({ ...plain, ...to } as Device)));
  return (
    <>
      <h2>{kindName(device)}</h2>
      <Designation device={device} store={store} />
      <label className="field-row">
        <span>Duty</span>
        <Select
          size="small"
          allowClear
          aria-label="Duty"
          placeholder="none"
          value={device.duty ?? null}
          options={DUTIES.map((duty) => ({ value: duty, label: DUTY_NAMES[duty] }))}
          onChange={(duty: Device['duty']) => change({ duty })}
        />
      </label>
      <FieldForm
        fields={kind.options}
        values={plain.options}
        device={device}
        motors={motors}
        onChange={(options) => change({ options })}
      />
      {Object.keys(kind.settings).length > 0 && (
        <>
          <h3>Set with a screwdriver or a handle</h3>
          <FieldForm
            fields={kind.settings}
            values={plain.settings}
            device={device}
            motors={motors}
            onChange={(settings) => change({ settings })}
          />
        </>
      )}
      {device.type === 'plc' && <ProgramField tag={device.tag} store={store} />}
      {device.type === 'limit-switch' && (
        <Travel
          device={device}
          motors={motors}
          onChange={(travel) => change({ options: { ...plain.options, travel } })}
        />
      )}
    </>
  );
}

/** A limit switch is worked by a motor's load, or by hand. */
function Travel({
  device,
  motors,
  onChange,
}: {
  device: Extract<Device, { type: 'limit-switch' }>;
  motors: readonly string[];
  onChange: (travel: { motor: string; end: 'forward' | 'reverse' } | undefined) => void;
}) {
  const [motor = ''] = motors;
  return (
    <Checkbox
      checked={device.options.travel !== undefined}
      disabled={motor === ''}
      onChange={({ target }) => onChange(target.checked ? { motor, end: 'forward' } : undefined)}
    >
      Worked by the load of a motor
    </Checkbox>
  );
}

/** The designation, taken when it is whole; another device's is refused. */
function Designation({ device, store }: { device: Device; store: SetterStore }) {
  const [text, setText] = useState(device.tag);
  const [problem, setProblem] = useState<string | null>(null);
  const take = () => {
    const to = text.trim();
    if (to === device.tag) return;
    if (!/^[A-Za-z0-9+.=_-]{1,24}$/.test(to)) {
      setProblem('Letters, digits, and . _ = + - only.');
      return;
    }
    const next = retag(store.getState().exercise, device.tag, to);
    if (!next) {
      setProblem(`${to} is another device.`);
      return;
    }
    store.actions.change(next, [to]);
    store.actions.choose([to]);
  };
  return (
    <>
      <label className="field-row">
        <span>Designation</span>
        <Input
          size="small"
          className="mono"
          aria-label="Designation"
          value={text}
          status={problem ? 'error' : ''}
          onChange={({ target }) => {
            setText(target.value);
            setProblem(null);
          }}
          onBlur={take}
          onPressEnter={take}
        />
      </label>
      {problem && <Alert type="error" title={problem} />}
    </>
  );
}

function WholeBoard({
  store,
  exercise,
  habit,
  onHabit,
}: {
  store: SetterStore;
  exercise: Exercise;
  habit: Habit;
  onHabit: (habit: Habit) => void;
}) {
  const { change } = store.actions;
  const { bench } = exercise;
  return (
    <div className="device-panel">
      <h2>The board</h2>
      <label className="field-row">
        <span>Name</span>
        <Input
          size="small"
          aria-label="Name of the board"
          value={bench.title}
          maxLength={200}
          onChange={({ target }) =>
            change((one) => ({ ...one, bench: { ...one.bench, title: target.value } }))
          }
        />
      </label>
      <label className="field-row">
        <span>Numbering</span>
        <Segmented<Habit>
          size="small"
          aria-label="Designations"
          value={habit}
          options={[
            { value: 'iec', label: 'IEC' },
            { value: 'us', label: 'US' },
          ]}
          onChange={(value) => onHabit(value)}
        />
      </label>
      <div className="hand-row">
        <Button size="small" onClick={() => change((one) => renumber(one, habit))}>
          Renumber
        </Button>
        <Button size="small" onClick={() => change(unplaced)}>
          Arrange by kind
        </Button>
      </div>
      <Coupled store={store} exercise={exercise} />
      <p className="quiet">
        Drag a device from the shelf to a rail or the door, or click it there. Click a device to set what it
        is; with Shift more than one. By keyboard: arrows go from device to device, with Alt they move it,
        Delete takes it off, Ctrl+D puts one more beside it.
      </p>
    </div>
  );
}

/** Contactors that are coupled, and how leads lie. */
function Coupled({ store, exercise }: { store: SetterStore; exercise: Exercise }) {
  const { change } = store.actions;
  const { bench } = exercise;
  const contactors = bench.devices.filter(isContactor).map(({ tag }) => tag);
  return (
    <>
      {contactors.length > 1 && (
        <label className="field-row">
          <span>Coupled mechanically</span>
          <Select
            size="small"
            mode="multiple"
            aria-label="Contactors that are coupled mechanically"
            placeholder="none"
            value={[...(bench.interlocks[0]?.between ?? [])]}
            options={contactors.map((tag) => ({ value: tag, label: tag }))}
            onChange={(between: string[]) =>
              change((one) => ({
                ...one,
                bench: {
                  ...one.bench,
                  interlocks: between.length > 1 ? [{ kind: 'mechanical', between }] : [],
                },
              }))
            }
          />
        </label>
      )}
      <label className="field-row">
        <span>Wiring style</span>
        <Segmented<'ducts' | 'hung'>
          size="small"
          aria-label="Wiring style"
          value={exercise.leads ?? 'ducts'}
          options={[
            { value: 'ducts', label: 'in ducts' },
            { value: 'hung', label: 'hung' },
          ]}
          onChange={(leads) => change((one) => ({ ...one, leads }))}
        />
      </label>
    </>
  );
}
