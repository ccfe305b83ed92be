import { Button } from 'antd';
import { useStore } from 'zustand';
import { spellRef, type Lead } from '@contactum/core';
import { leadColour } from '../board/colours.js';
import type { BenchStore } from './store.js';

/** The leads of a board, in the order in which they were laid. */
export function LeadList({ store }: { store: BenchStore }) {
  const leads = useStore(store, (state) => state.bench.wires);
  if (leads.length === 0)
    return (
      <div className="job-scroll">
        <p className="quiet">
          No leads yet. Click a terminal, then another, or type KM1 13 &gt; S2 13 above the board.
        </p>
      </div>
    );
  return (
    <div className="job-scroll">
      <ol className="lead-list">
        {leads.map((lead) => (
          <LeadItem key={lead.id} lead={lead} store={store} />
        ))}
      </ol>
    </div>
  );
}

function LeadItem({ lead, store }: { lead: Lead; store: BenchStore }) {
  const { id, from, to, colour, fitted } = lead;
  const { actions } = store;
  const isSelected = useStore(store, (state) => state.selected === id);
  return (
    <li data-selected={isSelected ? 'yes' : undefined}>
      <button
        type="button"
        className="lead-pick"
        aria-pressed={isSelected}
        onClick={() => actions.patch({ selected: isSelected ? null : id, from: null, moving: null })}
      >
        <span className="swatch" style={{ background: leadColour(colour).paint }} />
        <span className="mono">
          {spellRef(from)} – {spellRef(to)}
        </span>
      </button>
      {fitted ? (
        <span className="quiet">fitted</span>
      ) : (
        <Button
          size="small"
          type="text"
          aria-label={`Remove lead ${from} to ${to}`}
          onClick={() => actions.cut(id)}
        >
          Remove
        </Button>
      )}
    </li>
  );
}
