import { useState } from 'react';
import { Button, InputNumber, Select } from 'antd';
import { useStore } from 'zustand';
import {
  dialsOf,
  isSupply,
  spellWire,
  type Bench,
  type MeterRequest,
  type SearchAnswer,
  type SearchEntry,
  type Tool,
} from '@contactum/core';
import { MODES, MeterFace } from '../bench/views/MeterFace.js';
import { PROBES, shownReading } from '../bench/views/reading.js';
import { putProbe, type SearchStore } from './search-store.js';
import type { RemoteBench } from './remote.js';

interface Props {
  readonly bench: Bench;
  readonly live: RemoteBench;
  readonly store: SearchStore;
  readonly tools: readonly Tool[];
}

const words = (answer: SearchAnswer): string =>
  answer.kind === 'refused'
    ? `Refused: ${answer.reason}.`
    : answer.kind === 'read'
      ? shownReading(answer.reading)
      : answer.kind === 'look'
        ? `${answer.value} ${answer.unit}`
        : 'Done.';

/** The meter, the dials, and the hands on leads and parts. */
export function Instruments(props: Props) {
  const { tools } = props;
  const mayHand = tools.includes('lift') || tools.includes('exchange');
  return (
    <div className="instruments">
      <MeterBox {...props} />
      <Dials {...props} />
      {mayHand && <Hands {...props} />}
    </div>
  );
}

function MeterBox({ bench, live, store, tools }: Props) {
  const mode = useStore(store, (state) => state.mode);
  const probes = useStore(store, (state) => state.probes);
  const probing = useStore(store, (state) => state.probing);
  const lead = useStore(store, (state) => state.lead);
  const [shown, setShown] = useState('– – –');
  const places = PROBES[mode].map((probe) => probes[probe] ?? null);
  const read = async (): Promise<void> => {
    const request = (mode === 'amps' ? { mode, lead } : { mode, at: places }) as MeterRequest;
    setShown(words(await live.do({ kind: 'read', request })));
  };
  return (
    <section aria-label="Meter">
      <h2>Meter</h2>
      <MeterFace
        modes={MODES.filter(({ value }) => tools.includes(value))}
        size="small"
        mode={mode}
        onMode={(next) => store.setState({ mode: next, probing: PROBES[next][0] ?? null })}
        probes={probes}
        probing={probing}
        onArm={(probe) => store.setState({ probing: probe })}
        onPut={(probe, ref) => putProbe(store, ref, probe)}
        lead={lead === null ? undefined : bench.wires[lead]}
        noLead="Choose a lead: click it on the board, or take it from the list below."
        live={live}
        onRead={() => void read()}
        shown={shown}
      />
    </section>
  );
}

/** Dials that are read by looking at them, and set by hand. */
function Dials({ bench, live }: Props) {
  const dials = dialsOf(bench);
  if (dials.length === 0) return null;
  return (
    <section aria-label="Dials">
      {dials.map((what) => (
        <DialRow key={what} what={what} live={live} />
      ))}
    </section>
  );
}

function DialRow({ what, live }: { what: string; live: RemoteBench }) {
  const [shown, setShown] = useState('');
  const [to, setTo] = useState<number | null>(null);
  const look = async (): Promise<void> => setShown(words(await live.do({ kind: 'look', what })));
  const set = async (): Promise<void> => {
    if (to === null) return;
    const answer = await live.do({ kind: 'act', stimulus: { set: what, to } });
    if (answer.kind === 'refused') setShown(words(answer));
    else await look();
  };
  const name = what.replace('.', ' ');
  return (
    <div className="hand-row">
      <span>{name}</span>
      <Button size="small" aria-label={`Look at ${name}`} onClick={() => void look()}>
        Look
      </Button>
      <output className="dial-shown">{shown}</output>
      <InputNumber
        size="small"
        aria-label={`Set ${name} to`}
        placeholder={what.endsWith('.dial') ? 'A' : 's'}
        min={0}
        value={to}
        onChange={setTo}
      />
      <Button size="small" aria-label={`Set ${name}`} disabled={to === null} onClick={() => void set()}>
        Set
      </Button>
    </div>
  );
}

/** Leads are taken off and put back, renewed; parts are exchanged. */
function Hands(props: Props) {
  const { live, tools } = props;
  const [said, setSaid] = useState('');
  const give = (entry: SearchEntry): void => void live.do(entry).then((answer) => setSaid(words(answer)));
  return (
    <section aria-label="Hands on the board">
      <h2>Hands on the board</h2>
      {tools.includes('lift') && <LeadHand {...props} give={give} />}
      {tools.includes('exchange') && <PartHand {...props} give={give} />}
      <p className="quiet" role="status">
        {said}
      </p>
    </section>
  );
}

type Giving = Props & { readonly give: (entry: SearchEntry) => void };

function LeadHand({ bench, live, store, tools, give }: Giving) {
  const lead = useStore(store, (state) => state.lead);
  const lifted = useStore(live.remote, (state) => state.lifted);
  const isOff = lead !== null && lifted.includes(lead);
  const hand = (kind: 'lift' | 'refit' | 'renew') => lead !== null && give({ kind, wire: lead });
  return (
    <div className="hand-row">
      <Select
        size="small"
        showSearch={{ optionFilterProp: 'label' }}
        allowClear
        aria-label="Lead"
        placeholder="lead"
        value={lead}
        options={bench.wires.map((wire, k) => ({
          value: k,
          label: `${spellWire(wire)}${lifted.includes(k) ? ' (off)' : ''}`,
        }))}
        onChange={(next: number | undefined) => store.setState({ lead: next ?? null })}
      />
      <Button size="small" disabled={lead === null} onClick={() => hand(isOff ? 'refit' : 'lift')}>
        {isOff ? 'Put back' : 'Take off'}
      </Button>
      {tools.includes('exchange') && (
        <Button size="small" disabled={lead === null} onClick={() => hand('renew')}>
          Renew
        </Button>
      )}
    </div>
  );
}

function PartHand({ bench, give }: Giving) {
  const [part, setPart] = useState<string | null>(null);
  const device = bench.devices.find(({ tag }) => tag === part);
  return (
    <div className="hand-row">
      <Select
        size="small"
        showSearch
        allowClear
        aria-label="Part"
        placeholder="device"
        value={part}
        options={bench.devices.map(({ tag }) => ({ value: tag, label: tag }))}
        onChange={(next: string | undefined) => setPart(next ?? null)}
      />
      <Button
        size="small"
        disabled={!device}
        onClick={() => device && give({ kind: 'exchange', tag: device.tag })}
      >
        {device && isSupply(device) ? 'Have it put right' : 'Exchange'}
      </Button>
    </div>
  );
}
