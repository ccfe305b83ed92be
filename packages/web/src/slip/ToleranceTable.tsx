import { Button } from 'antd';
import { plural, propertyTitle, type FaultVerdict, type Property, type Report } from '@contactum/core';
import type { Proof } from './Replay.js';
import { Sequence } from './steps.js';

/** What each single fault would take from the board's safety, and by which sequence. */
export function ToleranceTable({
  report,
  shown,
  onProof,
}: {
  report: Report;
  shown: string;
  onProof: (proof: Proof) => void;
}) {
  // Markings of an older marker have none.
  const tolerance = report.tolerance as Report['tolerance'] | undefined;
  if (!tolerance) return null;
  const { faults, survived, properties } = tolerance;
  const bad = faults.filter(({ lost }) => lost.length > 0);
  const good = faults.filter(({ lost }) => lost.length === 0);
  return (
    <section aria-label="Single faults">
      <h2>Single faults</h2>
      <p className="quiet">
        Costs no points. {survived} of {faults.length} credible single faults leave all {properties.length}{' '}
        safety properties that hold now as they are.
      </p>
      {bad.length > 0 && (
        <ul className="faults">
          {bad.map((verdict) => (
            <li key={`${verdict.fault.kind} ${verdict.fault.place}`}>
              <strong>{verdict.title}</strong>
              {verdict.lost.map((property) => (
                <LostProperty
                  key={property.id}
                  verdict={verdict}
                  property={property}
                  shown={shown}
                  onProof={onProof}
                />
              ))}
            </li>
          ))}
        </ul>
      )}
      <details>
        <summary>
          {plural(good.length, 'fault')} that it survives
          {good.some(({ cleared }) => cleared) ? ' (where a fuse or breaker clears it, so marked)' : ''}
        </summary>
        <ul className="faults-survived">
          {good.map(({ fault, title, cleared }) => (
            <li key={`${fault.kind} ${fault.place}`}>
              {title}
              {cleared && <span className="quiet"> · cleared by its protection</span>}
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}

function LostProperty({
  verdict,
  property,
  shown,
  onProof,
}: {
  verdict: FaultVerdict;
  property: Property;
  shown: string;
  onProof: (proof: Proof) => void;
}) {
  const { fault, title } = verdict;
  const { id, trace, found } = property;
  const key = `fault ${fault.kind} ${fault.place} ${id}`;
  return (
    <div className="fault-lost" data-shown={shown === key ? 'yes' : undefined}>
      <span>
        <Sequence steps={trace} />
        {found}
      </span>
      <Button
        size="small"
        aria-label={`Replay ${title}: ${propertyTitle(id)}`}
        onClick={() =>
          onProof({
            key,
            title: `With ${title}: ${propertyTitle(id)}`,
            steps: trace,
            found,
            where: [],
            fault,
          })
        }
      >
        Replay
      </Button>
    </div>
  );
}
