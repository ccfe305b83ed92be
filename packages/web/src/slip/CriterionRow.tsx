import { EditOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import type { Criterion } from '@contactum/core';
import type { Slip } from '@contactum/contract';
import type { Proof } from './Replay.js';
import { Sequence, stimuliOf } from './steps.js';

/** One criterion: kept or lost, why, its proofs, its points. */
export function CriterionRow({
  criterion,
  slip,
  shown,
  onProof,
  onChange,
}: {
  criterion: Criterion;
  slip: Slip;
  shown: boolean;
  onProof: (proof: Proof) => void;
  onChange: (() => void) | undefined;
}) {
  const { part, id, title, points, max, evidence, essential } = criterion;
  const change = slip.changes.findLast((one) => one.part === part && one.criterion === id);
  return (
    <li className={evidence ? 'lost' : 'kept'} data-shown={shown ? 'yes' : undefined}>
      <span className="sign" aria-label={evidence ? 'lost' : 'kept'}>
        {evidence ? '✕' : '✓'}
      </span>
      <div className="criterion-text">
        <strong>{title}</strong>
        {essential === false && <span className="quiet"> not essential</span>}
        {evidence && (
          <p>
            {evidence.steps && <Sequence steps={stimuliOf(evidence.steps)} />}
            {evidence.found}
          </p>
        )}
        {evidence?.why && (
          <ul className="criterion-why" aria-label="Why">
            {evidence.why.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        )}
        {change && (
          <p className="quiet">
            Changed from {change.from} to {change.to} by {change.by}: {change.reason}
          </p>
        )}
        <Proofs criterion={criterion} onProof={onProof} />
      </div>
      <span className="criterion-points">
        {change ? change.to : points}
        <small> of {max}</small>
        {onChange && (
          <Button
            size="small"
            type="text"
            icon={<EditOutlined />}
            aria-label={`Change points of ${title}`}
            title="Change points"
            onClick={onChange}
          />
        )}
      </span>
    </li>
  );
}

/** What can be shown of a lost point. */
function proofsOf({ part, id, title, evidence }: Criterion): { label: string; proof: Proof }[] {
  if (!evidence) return [];
  const { steps, where = [], found, otherwise } = evidence;
  const still = steps === undefined;
  const proofs = [];
  if (!still || where.length > 0)
    proofs.push({
      label: still ? 'Show on the board' : 'Replay',
      proof: { key: `${part} ${id}`, title, steps: stimuliOf(steps ?? []), found, where, still },
    });
  if (otherwise)
    proofs.push({
      label: 'Replay the other order',
      proof: {
        key: `${part} ${id} otherwise`,
        title: `${title}: the other order`,
        steps: stimuliOf(otherwise),
        found,
        where: [],
      },
    });
  return proofs;
}

function Proofs({ criterion, onProof }: { criterion: Criterion; onProof: (proof: Proof) => void }) {
  return (
    <span className="criterion-acts">
      {proofsOf(criterion).map(({ label, proof }) => (
        <Button key={label} size="small" onClick={() => onProof(proof)}>
          {label}
        </Button>
      ))}
    </span>
  );
}
