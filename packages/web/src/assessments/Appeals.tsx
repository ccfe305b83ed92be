import type { Appeal } from '@contactum/contract';
import { at } from './words.js';

/** Appeals with their answers. */
export function AppealList({
  appeals,
  tasks,
}: {
  appeals: readonly Appeal[];
  tasks: readonly { readonly id: string; readonly title: string }[];
}) {
  if (appeals.length === 0) return null;
  const titleOf = (id: string) => tasks.find((one) => one.id === id)?.title ?? '';
  return (
    <ul className="appeals" aria-label="Appeals">
      {appeals.map((one) => (
        <li key={one.id}>
          <p>
            <strong>{one.criterion}</strong>{' '}
            <span className="quiet">
              ({titleOf(one.task)}, {at(one.at)})
            </span>
          </p>
          <p>{one.text}</p>
          {one.answer === null ? (
            <p className="quiet">Not answered yet.</p>
          ) : (
            <p>
              <strong>{one.upheld ? 'Upheld' : 'Not upheld'}</strong> by {one.by}: {one.answer}
            </p>
          )}
        </li>
      ))}
    </ul>
  );
}
