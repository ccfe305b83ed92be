import type { VersionChange } from '@contactum/core';

/** What is other in a version than in the one before it. */
export function VersionChanges({ changes }: { changes: readonly VersionChange[] }) {
  return (
    <ul className="must">
      {changes.map(({ of, kind, what, marks }) => (
        <li key={`${of} ${kind} ${what}`}>
          {kind}: {what} {marks && <span className="quiet">(marks rest on it)</span>}
        </li>
      ))}
    </ul>
  );
}
