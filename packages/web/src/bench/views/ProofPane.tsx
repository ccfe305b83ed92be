import { usualForm } from '@contactum/core';
import { useState, type ReactNode } from 'react';
import { Alert, Button, Spin } from 'antd';
import { useStore } from 'zustand';
import type { Bench, DrawingForm, PropertySoFar } from '@contactum/core';
import { Walk } from '../../drawing/Walk.js';
import { standOf, type Stand } from '../stands.js';
import type { LiveProof } from '../use-proof.js';
import type { ViewProps } from './view-props.js';
import './proof-pane.css';

const SIGNS = { broken: '✕', untested: '○', holds: '✓' } as const;
const WORDS = { broken: 'broken', untested: 'not tested yet', holds: 'holds' } as const;

/**
 * What the wiring can do so far: the functions that are asked, and whether it is safe whatever is pressed.
 */
export function ProofPane({ kit: { store }, view: { exercise }, proof }: ViewProps) {
  const bench = useStore(store, (state) => state.bench);
  return proof && <ProofList bench={bench} form={usualForm(exercise.bench)} proof={proof} />;
}

/** The same of any board that is proved while it is wired. */
export function ProofList({ bench, form, proof }: { bench: Bench; form: DrawingForm; proof: LiveProof }) {
  const [played, setPlayed] = useState<string | null>(null);
  const { soFar, isBehind, problem } = proof;
  if (problem !== null) return <Alert type="error" showIcon title={problem} />;
  if (!soFar) return <Spin className="waiting" />;
  return (
    <div className="proof-pane" data-behind={isBehind ? 'yes' : undefined} aria-busy={isBehind}>
      {soFar.functions.length > 0 && <h3>What is asked</h3>}
      <ul>
        {soFar.functions.map(({ id, title, differs }) => (
          <li key={id} data-stands={differs === null ? 'holds' : 'untested'}>
            <span aria-hidden="true">{differs === null ? '✓' : '○'}</span>
            <div>
              {title}
              <p className="quiet">{differs === null ? 'The board does it.' : `Not yet: ${differs}`}</p>
            </div>
          </li>
        ))}
      </ul>
      <h3>Safe in every order of pressing</h3>
      <ul>
        {soFar.properties.map((property) => (
          <Stands
            key={property.id}
            property={property}
            stand={standOf(property, soFar)}
            isPlayed={property.id === played}
            onPlay={() => setPlayed(property.id === played ? null : property.id)}
          >
            <Walk
              key={JSON.stringify(property.trace)}
              bench={bench}
              functions={[{ id: property.id, title: property.title, steps: property.trace }]}
              form={form}
            />
          </Stands>
        ))}
      </ul>
      {!soFar.complete && <p>This board is too large to be proved whole while it is wired.</p>}
    </div>
  );
}

function Stands({
  property,
  stand,
  isPlayed,
  onPlay,
  children,
}: {
  property: PropertySoFar;
  stand: Stand;
  isPlayed: boolean;
  onPlay: () => void;
  /** The sequence that breaks it, shown while it is played. */
  children: ReactNode;
}) {
  const { title, found, trace } = property;
  return (
    <li data-stands={stand}>
      <span aria-hidden="true">{SIGNS[stand]}</span>
      <div>
        {title}
        <p className="quiet">
          {WORDS[stand]}
          {stand === 'broken' && `: ${found}`}
        </p>
        {stand === 'broken' && trace.length > 0 && (
          <Button size="small" aria-pressed={isPlayed} onClick={onPlay}>
            {isPlayed ? 'Close' : 'Play it'}
          </Button>
        )}
        {stand === 'broken' && isPlayed && children}
      </div>
    </li>
  );
}
