import { useState } from 'react';
import { Button, Input } from 'antd';

/** Writes a message to one bench, to all of a class, or to the instructor. */
export function WordBox({
  to,
  label,
  onSay,
  draft = '',
}: {
  to: string;
  label: string;
  onSay: (text: string) => void;
  /** What stands in it at first: a message that was not sent. */
  draft?: string;
}) {
  const [text, setText] = useState(draft);
  const word = text.trim();
  const say = () => {
    if (word !== '') onSay(word);
    setText('');
  };
  return (
    <span className="hand-row">
      <Input
        aria-label={label}
        placeholder={`Message ${to}`}
        maxLength={300}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onPressEnter={say}
      />
      <Button onClick={say} disabled={word === ''}>
        Send
      </Button>
    </span>
  );
}
