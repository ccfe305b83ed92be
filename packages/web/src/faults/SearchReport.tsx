import { plural } from '@contactum/core';
import type { Note, ReadingNote, SearchFindings } from '@contactum/core';
import { clock } from './Notebook.js';
import './faults.css';

/** What a search was: what was wrong, what was done, and what was known at each moment. */
export function SearchReport({ findings }: { findings: SearchFindings }) {
  const { faults, readings, verdicts, expert, notes, left, proved, functions } = findings;
  const best = new Map(readings.map((one) => [one.t, one]));
  return (
    <section className="search-report" aria-label="The search">
      <h2>The search</h2>
      <p>
        It was: <strong>{faults.join('; ') || 'nothing'}</strong>. {plural(readings.length, 'reading')} made;
        an expert needs {expert}. {plural(verdicts.length, 'verdict')}.{' '}
        {left.length > 0 ? `Still in the board: ${left.join('; ')}.` : 'The board is restored.'}{' '}
        {proved.length} of {functions} functions shown after the last hand on it.
      </p>
      <table className="plain search-steps">
        <thead>
          <tr>
            <th>Time</th>
            <th>What was done</th>
            <th>Causes left</th>
            <th>What could have been done</th>
          </tr>
        </thead>
        <tbody>
          {notes.map((note, k) => (
            <StepRow key={k} note={note} reading={best.get(note.t)} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function StepRow({ note, reading }: { note: Note; reading: ReadingNote | undefined }) {
  const { t, text, before, after, live } = note;
  const better = reading?.best && reading.best.left < after ? reading.best : null;
  return (
    <tr>
      <td className="mono">{clock(t)}</td>
      <td>
        {text}
        {live ? '' : <span className="quiet"> (dead)</span>}
      </td>
      <td className="mono">{before === after ? String(after) : `${before} → ${after}`}</td>
      <td className="quiet">{better ? `${better.title}: about ${Math.round(better.left)} left` : ''}</td>
    </tr>
  );
}
