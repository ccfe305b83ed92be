import { useMemo, useState } from 'react';
import { Button, InputNumber, Segmented } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { sizeStarter, type Sized, type StarterInput } from '@contactum/core';
import './plate-room.css';

const IEC: StarterInput = {
  form: 'iec',
  power: 4,
  volts: 400,
  frequency: 50,
  speed: 1440,
  amps: 8.2,
  cosPhi: 0.82,
  efficiency: 0.86,
  serviceFactor: 1,
  startRatio: 6,
  length: 30,
  starting: 'direct',
};
const US: StarterInput = {
  ...IEC,
  form: 'us',
  power: 5,
  volts: 460,
  frequency: 60,
  speed: 1745,
  amps: undefined,
  serviceFactor: 1.15,
  efficiency: 0.88,
};

type Numeric = {
  [K in keyof StarterInput]: StarterInput[K] extends number | undefined ? K : never;
}[keyof StarterInput];

interface FieldOfPlate {
  readonly key: Exclude<Numeric, undefined>;
  readonly label: string;
  readonly unit: (form: StarterInput['form']) => string;
  readonly step: number;
}

const FIELDS: readonly FieldOfPlate[] = [
  { key: 'power', label: 'Power', unit: (form) => (form === 'us' ? 'hp' : 'kW'), step: 0.1 },
  { key: 'volts', label: 'Voltage between lines', unit: () => 'V', step: 1 },
  { key: 'frequency', label: 'Frequency', unit: () => 'Hz', step: 10 },
  { key: 'speed', label: 'Speed', unit: () => 'rpm', step: 1 },
  { key: 'amps', label: 'Current, if the plate says it', unit: () => 'A', step: 0.1 },
  { key: 'cosPhi', label: 'Power factor cos φ', unit: () => '', step: 0.01 },
  { key: 'efficiency', label: 'Efficiency', unit: () => 'per unit', step: 0.01 },
  { key: 'serviceFactor', label: 'Service factor', unit: () => '', step: 0.05 },
  { key: 'startRatio', label: 'Starting current over rated', unit: () => '×', step: 0.1 },
  { key: 'length', label: 'Cable to the motor', unit: () => 'm', step: 1 },
];

const STARTING: { value: StarterInput['starting']; label: string }[] = [
  { value: 'direct', label: 'Direct' },
  { value: 'star-delta', label: 'Star-delta' },
];

/** What a link from a device's plate brings along. */
function fromLink(params: URLSearchParams): StarterInput {
  const base = params.get('form') === 'us' ? US : IEC;
  const given = FIELDS.flatMap(({ key }) => {
    const text = params.get(key);
    const value = Number(text);
    return text !== null && Number.isFinite(value) ? [[key, value] as const] : [];
  });
  return {
    ...base,
    ...Object.fromEntries(given),
    starting: params.get('starting') === 'star-delta' ? 'star-delta' : base.starting,
  };
}

/** Nameplate in; everything that is chosen by it out, each with its formula and what it rests on. */
export function PlateRoomPage() {
  const [params] = useSearchParams();
  const [input, setInput] = useState(() => fromLink(params));
  const tag = params.get('tag');
  return (
    <main className="page plate-room">
      <h1>Plate room{tag ? `: ${tag}` : ''}</h1>
      <p>
        <Link to="/parts">Parts</Link>: what each device is for, how it is drawn, tested, and fails.
      </p>
      <div className="plate-columns">
        <PlateForm input={input} onInput={setInput} />
        <Sizes input={input} />
      </div>
    </main>
  );
}

function PlateForm({ input, onInput }: { input: StarterInput; onInput: (input: StarterInput) => void }) {
  const set = (change: Partial<StarterInput>) => onInput({ ...input, ...change });
  return (
    <form className="plate-form" aria-label="Nameplate" onSubmit={(event) => event.preventDefault()}>
      <Segmented
        block
        aria-label="Practice"
        options={[
          { value: 'iec', label: 'IEC' },
          { value: 'us', label: 'US' },
        ]}
        value={input.form}
        onChange={(form) => onInput(form === 'us' ? US : IEC)}
      />
      {FIELDS.map(({ key, label, unit, step }) => (
        <label key={key}>
          <span>{label}</span>
          <InputNumber
            value={input[key] ?? null}
            min={0}
            step={step}
            suffix={unit(input.form)}
            onChange={(value) => set({ [key]: value ?? undefined })}
          />
        </label>
      ))}
      <Segmented
        block
        aria-label="Starting method"
        options={STARTING}
        value={input.starting}
        onChange={(starting) => set({ starting })}
      />
      <Button onClick={() => onInput(input.form === 'us' ? US : IEC)}>Reset</Button>
    </form>
  );
}

/** Selection by a plate, or what is wrong with it. */
function Sizes({ input }: { input: StarterInput }) {
  const result = useMemo((): { choices: readonly Sized[]; problem: string | null } => {
    try {
      return { choices: sizeStarter(input), problem: null };
    } catch (error) {
      return { choices: [], problem: (error as Error).message };
    }
  }, [input]);
  return (
    <section aria-label="Selection" aria-live="polite">
      {result.problem ? (
        <p className="plate-problem" role="alert">
          {result.problem}
        </p>
      ) : (
        <table className="plain plate-table">
          <thead>
            <tr>
              <th>What</th>
              <th>Choose</th>
              <th>How</th>
              <th>Source</th>
            </tr>
          </thead>
          <tbody>
            {result.choices.map(({ id, what, chosen, how, rests }) => (
              <tr key={id}>
                <th scope="row">{what}</th>
                <td className="plate-chosen">{chosen}</td>
                <td>{how}</td>
                <td className="quiet">{rests}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="caution">
        Figures for training. Standards are quoted from memory: local codes, the maker’s data and a licensed
        person decide what is built.
      </p>
    </section>
  );
}
