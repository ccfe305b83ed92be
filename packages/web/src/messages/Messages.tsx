import { useEffect, useRef } from 'react';
import dayjs from 'dayjs';
import type { BenchWord } from '@contactum/contract';
import './messages.css';

/** Messages between a bench and its instructors, the newest in sight. */
export function Messages({
  words,
  isOwn,
}: {
  words: readonly BenchWord[];
  /** Written by whoever reads. */
  isOwn: (word: BenchWord) => boolean;
}) {
  const list = useRef<HTMLDivElement | null>(null);
  useEffect(() => {
    if (list.current) list.current.scrollTop = list.current.scrollHeight;
  }, [words]);
  if (words.length === 0) return null;
  return (
    // A list that scrolls is reached by keyboard.
    <div ref={list} className="messages" role="log" aria-label="Messages" tabIndex={0}>
      <ol>
        {words.map((word) => (
          <li key={word.id} data-own={isOwn(word) ? 'yes' : undefined}>
            <span className="quiet">
              {isOwn(word) ? 'You' : word.by}
              {word.isToClass && ' to the class'}, {dayjs(word.at).format('HH:mm')}
            </span>
            <p>{word.text}</p>
          </li>
        ))}
      </ol>
    </div>
  );
}
