import { Alert, Button } from 'antd';
import { CloseOutlined } from '@ant-design/icons';
import { Messages } from '../messages/Messages.js';
import { WordBox } from '../messages/WordBox.js';
import type { FloorAtBench, Visit } from './use-floor.js';

/** What the instructor does at this bench: looks on, asks for the lead, has it, writes; and the answer. */
export function FloorNotes({ floor: { visit, messages, answer, write } }: { floor: FloorAtBench }) {
  const { watched, asked, lead } = visit;
  return (
    <div className="floor-notes">
      {asked !== null && (
        <Alert
          type="warning"
          showIcon
          title={`${asked.name} would like to take the lead at your bench.`}
          action={
            <span className="hand-row">
              <Button size="small" type="primary" onClick={() => answer(true, asked)}>
                Yes
              </Button>
              <Button size="small" onClick={() => answer(false, asked)}>
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
            <Button size="small" onClick={() => answer(false, lead)}>
              Take it back
            </Button>
          }
        />
      )}
      {messages.isOpen && <MessageBox visit={visit} onWrite={write} onClose={() => messages.open(false)} />}
      {watched !== null && lead === null && <span className="watched-note">● {watched} looks on</span>}
    </div>
  );
}

/** The messages of this bench, and a line to write one. */
function MessageBox({
  visit: { words, unsent },
  onWrite,
  onClose,
}: {
  visit: Visit;
  onWrite: (text: string) => void;
  onClose: () => void;
}) {
  return (
    <section className="message-box" aria-label="Messages with your instructor">
      <header>
        <h3>Messages</h3>
        <Button
          type="text"
          size="small"
          icon={<CloseOutlined />}
          aria-label="Close messages"
          onClick={onClose}
        />
      </header>
      {words.length === 0 && <p className="quiet">Your instructor sees what you write on the Floor.</p>}
      <Messages words={words} isOwn={({ isStudents }) => isStudents} />
      {unsent && <Alert type="warning" showIcon title={`“${unsent.text}” was not sent. ${unsent.why}`} />}
      <WordBox
        key={unsent?.text ?? ''}
        to="your instructor"
        label="Message your instructor"
        draft={unsent?.text ?? ''}
        onSay={onWrite}
      />
    </section>
  );
}
