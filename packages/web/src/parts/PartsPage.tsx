import { useMemo, useState } from 'react';
import { NavLink, useParams } from 'react-router';
import {
  DEVICE_TYPES,
  anatomy,
  describeFault,
  describeOhms,
  deviceSheet,
  freshDevice,
  kindName,
  kindOf,
  observedWords,
  partFaults,
  partReadings,
  ratingOf,
  type Bench,
  type Device,
  type DeviceType,
  type DrawingForm,
  type Sheet,
} from '@contactum/core';
import { Board } from '../board/Board.js';
import { SheetView } from '../drawing/DrawingView.js';
import '../drawing/drawing.css';
import { Blank } from '../shell/Blank.js';
import { NAMES, PURPOSES, ROLES } from './words.js';
import './parts.css';

/** A device of a kind as it comes from the shelf, with the usual letter. */
const sampleOf = (type: DeviceType): Device =>
  freshDevice(type, `${kindOf({ type }).letters.iec}1`, { devices: [] });

/** Kinds of one name by what they differ in. */
const partName = (type: DeviceType): string => NAMES[type] ?? kindName(sampleOf(type));

const isType = (word: string): word is DeviceType => (DEVICE_TYPES as readonly string[]).includes(word);

/** Every kind of device: what it is for, how it is drawn, what its terminals do, how it fails and is tested. */
export function PartsPage() {
  const { type = DEVICE_TYPES[0] ?? '' } = useParams();
  if (!isType(type))
    return <Blank title="There is no such part." act={{ text: 'All parts', to: '/parts' }} />;
  return (
    <main className="page parts-page">
      <nav aria-label="Parts">
        <h1>Parts</h1>
        <ul>
          {DEVICE_TYPES.map((one) => (
            <li key={one}>
              <NavLink to={`/parts/${one}`} aria-current={one === type ? 'page' : undefined}>
                {partName(one)}
              </NavLink>
            </li>
          ))}
        </ul>
      </nav>
      <Part key={type} type={type} />
    </main>
  );
}

function Part({ type }: { type: DeviceType }) {
  const device = useMemo(() => sampleOf(type), [type]);
  const [pointed, setPointed] = useState<string | null>(null);
  const bench = useMemo(
    (): Bench => ({
      contactum: 'bench/1',
      title: kindName(device),
      devices: [device],
      wires: [],
      interlocks: [],
    }),
    [device],
  );
  const states = observedWords(device);
  return (
    <article>
      <h2>{partName(type)}</h2>
      <p>{PURPOSES[type]}</p>
      <dl className="part-facts">
        <dt>Nameplate</dt>
        <dd>{ratingOf(device) || 'nothing'}</dd>
        {states.length > 0 && (
          <>
            <dt>States</dt>
            <dd>{states.join(', ')}</dd>
          </>
        )}
      </dl>
      <div className="part-pictures">
        <figure>
          <div className="part-board">
            <Board
              bench={bench}
              label={`Picture of ${kindName(device)}`}
              marked={pointed === null ? [] : [`${device.tag}:${pointed}`]}
            />
          </div>
          <figcaption>On the board</figcaption>
        </figure>
        <Symbols device={device} form="iec" pointed={pointed} />
        <Symbols device={device} form="us" pointed={pointed} />
      </div>
      <Terminals device={device} pointed={pointed} onPoint={setPointed} />
      <Readings device={device} />
      <Faults device={device} />
    </article>
  );
}

const FORMS: Readonly<Record<DrawingForm, string>> = { iec: 'IEC drawing', us: 'US ladder drawing' };

/** The symbols of a device in one form; a terminal that is pointed at is lit. */
function Symbols({ device, form, pointed }: { device: Device; form: DrawingForm; pointed: string | null }) {
  const sheet = useMemo(() => deviceSheet(device, form), [device, form]);
  const window = shownOf(sheet);
  const lit = sheet.symbols.flatMap(({ terminals }) => {
    const at = pointed === null ? undefined : terminals[pointed];
    return at ? [at] : [];
  });
  return (
    <figure>
      <div className="drawing part-symbols" role="img" aria-label={`${FORMS[form]} of ${kindName(device)}`}>
        <div className="part-sheet">
          <SheetView
            drawing={{ form, sheets: [sheet], nets: [] }}
            sheet={sheet}
            struck={undefined}
            window={window}
          />
          <svg className="part-lit" viewBox={window.join(' ')} aria-hidden="true">
            {lit.map(([x, y]) => (
              <circle key={`${x} ${y}`} cx={x} cy={y} r={8} />
            ))}
          </svg>
        </div>
      </div>
      <figcaption>{FORMS[form]}</figcaption>
    </figure>
  );
}

/** Room about symbols for what is written beside them, drawing units. */
const ROOM = { left: 48, top: 26 } as const;

/** The part of a sheet that its symbols take. */
function shownOf({ symbols, size }: Sheet): readonly [number, number, number, number] {
  const left = Math.min(...symbols.map(({ box }) => box[0])) - ROOM.left;
  const top = Math.min(...symbols.map(({ box }) => box[1])) - ROOM.top;
  return [left, top, size[0] - left, size[1] - top];
}

/** What each terminal does; one that is pointed at is lit in every picture. */
function Terminals({
  device,
  pointed,
  onPoint,
}: {
  device: Device;
  pointed: string | null;
  onPoint: (name: string | null) => void;
}) {
  return (
    <section aria-label="Terminals">
      <h3>Terminals</h3>
      <ul className="part-terminals" onPointerLeave={() => onPoint(null)}>
        {anatomy(device).terminals.map(({ name, role }) => (
          <li key={name}>
            <button
              type="button"
              aria-pressed={pointed === name}
              onPointerEnter={() => onPoint(name)}
              onFocus={() => onPoint(name)}
              onBlur={() => onPoint(null)}
            >
              <span className="mono">{name}</span> {ROLES[role]}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const ohmsWords = (ohms: number): string => (ohms < 0.5 ? 'closed, 0 Ω' : describeOhms(ohms));

/** How it is tested: taken out, dead, with an ohmmeter; the readings are simulated here and now. */
function Readings({ device }: { device: Device }) {
  const { doing, rows } = useMemo(() => partReadings(device), [device]);
  if (rows.length === 0) return null;
  return (
    <section aria-label="How it is tested">
      <h3>How it is tested</h3>
      <p className="quiet">
        Isolated, locked off, proved dead, and its leads taken off: then the ohmmeter shows this.
      </p>
      <table className="plain">
        <thead>
          <tr>
            <th>Between</th>
            <th>Part</th>
            {doing.map((words) => (
              <th key={words}>{words}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ between, what, ohms }) => (
            <tr key={between.join(' ')}>
              <th scope="row" className="mono">
                {between.join(' and ')}
              </th>
              <td>{what}</td>
              {ohms.map((read, k) => (
                <td key={k}>{ohmsWords(read)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** How it fails, and the reading that shows it. */
function Faults({ device }: { device: Device }) {
  const faults = useMemo(() => partFaults(device), [device]);
  if (faults.length === 0) return null;
  return (
    <section aria-label="How it fails">
      <h3>How it fails</h3>
      <ul>
        {faults.map(({ fault, shown }) => (
          <li key={fault.kind}>
            {describeFault(fault)}:{' '}
            {shown ? (
              <>
                <span className="mono">{shown.between.join(' and ')}</span>, {shown.doing},{' '}
                {ohmsWords(shown.ohms)} instead of {ohmsWords(shown.sound)}
              </>
            ) : (
              <span className="quiet">no ohmmeter reading shows it; it shows in operation</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
