import { useState } from 'react';
import { Alert, Select, Spin } from 'antd';
import { Link } from 'react-router';
import type { ExerciseTroubles, Loss } from '@contactum/contract';
import { useTroubles } from '../api/college.js';
import { Blank } from '../shell/Blank.js';
import './mark-book.css';

/** What goes wrong most, exercise by exercise, in all classes and term by term: behaviours, rules, wires. */
export function TroublesPage() {
  const troubles = useTroubles(true);
  const [id, setId] = useState<string | undefined>();
  if (troubles.isPending) return <Spin className="waiting" />;
  if (troubles.isError)
    return <Alert className="page" type="error" showIcon title={troubles.error.message} />;
  const [first] = troubles.data;
  if (!first) return <Blank title="No marks yet." act={{ text: 'Go to the mark book', to: '/marks' }} />;
  const chosen = troubles.data.find(({ exerciseId }) => exerciseId === id) ?? first;
  return (
    <main className="page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to="/marks">Mark book</Link>
          </p>
          <h1>What goes wrong</h1>
        </div>
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          aria-label="Exercise"
          value={chosen.exerciseId}
          style={{ minWidth: 340 }}
          options={troubles.data.map(({ exerciseId, title }) => ({ value: exerciseId, label: title }))}
          onChange={setId}
        />
      </div>
      <Terms trouble={chosen} />
      <div className="trouble-columns">
        <section>
          <h2>Behaviours</h2>
          <Bars rows={ofParts(chosen.losses, ['behaviour', 'safety'])} none="No behaviour was lost." />
        </section>
        <section>
          <h2>Rules and workmanship</h2>
          <Bars rows={ofParts(chosen.losses, ['rules', 'workmanship'])} none="No rule was lost." />
        </section>
        <section>
          <h2>Wires of boards that did not pass</h2>
          <Bars
            rows={chosen.wires.map(({ what, attempts }) => ({ text: what, attempts }))}
            none="No board is known that did not pass."
          />
          <p className="quiet">
            Against the reference: where wirings go wrong, not what is wrong. A right wiring may have other
            joints.
          </p>
        </section>
      </div>
    </main>
  );
}

const ofParts = (losses: readonly Loss[], parts: readonly string[]) =>
  losses.filter(({ part }) => parts.includes(part)).map(({ title, attempts }) => ({ text: title, attempts }));

/** Term by term: how many attempts, how many passed, the median. */
function Terms({ trouble: { terms } }: { trouble: ExerciseTroubles }) {
  return (
    <table className="plain terms-table">
      <thead>
        <tr>
          <th>Term</th>
          <th>Attempts</th>
          <th>Passed</th>
          <th>Median</th>
          <th aria-label="Passed, as a bar" />
        </tr>
      </thead>
      <tbody>
        {terms.map(({ term, attempts, passed, median }) => (
          <tr key={term}>
            <th scope="row">{term || 'no term'}</th>
            <td>{attempts}</td>
            <td>{passed}</td>
            <td>{median} %</td>
            <td>
              <span className="term-bar">
                <span style={{ width: `${(100 * passed) / Math.max(1, attempts)}%` }} />
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Bars({
  rows,
  none,
}: {
  rows: readonly { readonly text: string; readonly attempts: number }[];
  none: string;
}) {
  if (rows.length === 0) return <p className="quiet">{none}</p>;
  const most = Math.max(...rows.map(({ attempts }) => attempts));
  return (
    <ul className="bars">
      {rows.map(({ text, attempts }) => (
        <li key={text}>
          <span className="loss-bar" style={{ width: `${(100 * attempts) / most}%` }} />
          <span className="loss-text">
            {text} <span className="quiet">{attempts === 1 ? '1 attempt' : `${attempts} attempts`}</span>
          </span>
        </li>
      ))}
    </ul>
  );
}
