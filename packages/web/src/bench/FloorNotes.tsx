import { Alert, Button } from 'antd';
import type { Asker, Visit } from './use-floor.js';

/** What the instructor does at this bench: looks on, asks for the lead, has it, says a word. */
export function FloorNotes({
  visit,
  onAnswer,
  onHeard,
}: {
  visit: Visit;
  onAnswer: (yes: boolean, to: Asker) => void;
  onHeard: (id: string) => void;
}) {
  const { watched, asked, lead, words } = visit;
  return (
    <div className="floor-notes">
      {words.map(({ id, by, text }) => (
        <Alert
          key={id}
          type="info"
          showIcon
          title={`${by}: ${text}`}
          closable={{ onClose: () => onHeard(id) }}
        />
      ))}
      {asked !== null && (
        <Alert
          type="warning"
          showIcon
          title={`${asked.name} would like to take the lead at your bench.`}
          action={
            <span className="hand-row">
              <Button size="small" type="primary" onClick={() => onAnswer(true, asked)}>
                Yes
              </Button>
              <Button size="small" onClick={() => onAnswer(false, asked)}>
                No
              </Button>
            </span>
          }
        />
      )}
      {lead !== null && (
        <Alert
          type="warning"
          showIcon
          title={`${lead.name} has the lead beside you.`}
          action={
            <Button size="small" onClick={() => onAnswer(false, lead)}>
              Take it back
            </Button>
          }
        />
      )}
      {watched !== null && lead === null && <span className="watched-note">● {watched} looks on</span>}
    </div>
  );
}
