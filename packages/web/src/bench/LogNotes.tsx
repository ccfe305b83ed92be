import { Alert, Button } from 'antd';
import { lazy, Suspense } from 'react';
import type { Person } from '@contactum/contract';
import type { Sending } from './sender.js';

const SignInAgain = lazy(() => import('./SignInAgain.js').then((m) => ({ default: m.SignInAgain })));

/** What is said of a log that this tab does not write, or that cannot be stored. */
export interface LogWords {
  readonly following: string;
  readonly take: string;
  readonly stale: string;
}

/** Who writes the log of an attempt, and what is not stored of it. */
export function LogNotes({
  words,
  following,
  sending: { signedOut, stale, unsaved },
  person,
  onTake,
  onResume,
}: {
  words: LogWords;
  following: boolean;
  sending: Pick<Sending, 'signedOut' | 'stale' | 'unsaved'>;
  person: Person;
  onTake: () => void;
  onResume: () => void;
}) {
  return (
    <>
      {following && (
        <Alert
          type="info"
          showIcon
          title={words.following}
          action={
            <Button size="small" onClick={onTake}>
              {words.take}
            </Button>
          }
        />
      )}
      {signedOut && (
        <Suspense>
          <SignInAgain person={person} unsent={unsaved} onDone={onResume} />
        </Suspense>
      )}
      {stale && (
        <Alert
          type="error"
          showIcon
          title={words.stale}
          action={
            <Button size="small" onClick={() => window.location.reload()}>
              Reload
            </Button>
          }
        />
      )}
    </>
  );
}
