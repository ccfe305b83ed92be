import { useState } from 'react';
import { Button, Input } from 'antd';

/** A message to one bench, or to all of a class. */
export function WordBox({ to, label, onSay }: { to: string; label: string; onSay: (text: string) => void }) {
  const [text, setText] = useState('');
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
