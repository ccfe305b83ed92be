import { EditOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import type { Criterion, EvidenceCell } from '@contactum/core';
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
        <Found criterion={criterion} onProof={onProof} />
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

/** What was found: in a sentence, or cell by cell. */
function Found({ criterion, onProof }: { criterion: Criterion; onProof: (proof: Proof) => void }) {
  const { evidence } = criterion;
  if (!evidence) return null;
  const { cells, steps, found } = evidence;
  if (cells) return <Cells cells={cells} criterion={criterion} onProof={onProof} />;
  return (
    <p>
      {steps && <Sequence steps={stimuliOf(steps)} />}
      {found}
    </p>
  );
}

/** Wrong cells that are seen at once; the others are behind a click. */
const AT_ONCE = 3;

/** Each wrong cell of an answer, to be played. */
function Cells({
  cells,
  criterion: { part, id, title },
  onProof,
}: {
  cells: readonly EvidenceCell[];
  criterion: Criterion;
  onProof: (proof: Proof) => void;
}) {
  const rows = cells.map(({ what, answered, right, steps }, k) => (
    <li key={what}>
      <span>
        {what}: {answered}, right is <strong>{right}</strong>
      </span>
      <Button
        size="small"
        aria-label={`Replay ${what}`}
        onClick={() =>
          onProof({
            key: `${part} ${id} ${k}`,
            title,
            steps: stimuliOf(steps),
            found: `${what}: ${answered}, right is ${right}`,
            where: [],
          })
        }
      >
        Replay
      </Button>
    </li>
  ));
  return (
    <>
      <ul className="criterion-cells" aria-label="Wrong cells">
        {rows.slice(0, AT_ONCE)}
      </ul>
      {rows.length > AT_ONCE && (
        <details>
          <summary>{rows.length - AT_ONCE} more</summary>
          <ul className="criterion-cells">{rows.slice(AT_ONCE)}</ul>
        </details>
      )}
    </>
  );
}

/** What can be shown of a lost point. */
function proofsOf({ part, id, title, evidence }: Criterion): { label: string; proof: Proof }[] {
  // Each wrong cell has its own.
  if (!evidence || evidence.cells) return [];
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
