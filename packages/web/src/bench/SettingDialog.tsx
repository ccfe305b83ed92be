import { useState } from 'react';
import { InputNumber, Modal } from 'antd';
import { settableOn, type Adjustable, type Device } from '@contactum/core';
import type { BenchStore } from './store.js';

/** Sets what a device has to be set with a screwdriver; nothing where it has nothing. */
export function SettingDialog({
  device,
  store,
  onClose,
}: {
  device: Device;
  store: BenchStore;
  onClose: () => void;
}) {
  const [knob] = settableOn(device);
  if (!knob) return null;
  const { tag } = device;
  const value = Number((device.settings as Readonly<Record<string, unknown>>)[knob.setting]);
  const set = (next: number): void => {
    store.actions.set(tag, knob.setting, next);
    onClose();
  };
  return <Knob tag={tag} knob={knob} value={value} onSet={set} onClose={onClose} />;
}

function Knob({
  tag,
  knob: { setting, unit, min, max },
  value,
  onSet,
  onClose,
}: {
  tag: string;
  knob: Adjustable;
  value: number;
  onSet: (value: number) => void;
  onClose: () => void;
}) {
  const [next, setNext] = useState<number | null>(value);
  return (
    <Modal
      open
      title={`${tag} ${setting}`}
      okText="Set"
      onOk={() => next !== null && onSet(next)}
      okButtonProps={{ disabled: next === null }}
      onCancel={onClose}
      width={360}
    >
      <InputNumber
        aria-label={`${setting} in ${unit}`}
        value={next}
        min={min}
        max={max}
        step={0.1}
        suffix={unit}
        onChange={setNext}
        autoFocus
        style={{ width: 160 }}
      />
      <p className="quiet">
        From {min} to {max} {unit}.
      </p>
    </Modal>
  );
}
