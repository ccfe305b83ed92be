import { Button } from 'antd';
import { Link } from 'react-router';
import { useDrafts } from '../api/college.js';
import { useExercises } from '../api/queries.js';

/** What leads from a template to an exercise that a class has. */
const STEPS = [
  ['Create', 'Choose a template below and press Create exercise. It works as it is; change what you like.'],
  ['Check', 'Open the draft and go to 6 Check: the dry run marks the usual mistakes.'],
  ['Publish', 'Press Publish in 6 Check. Students see nothing of it yet.'],
  ['Assign', 'Open the exercise and assign it to a class. It appears on its students’ pages.'],
] as const;

/**
 * Four steps for an instructor who has made no exercise yet; gone once one of their own is assigned.
 */
export function FourSteps() {
  const drafts = useDrafts().data;
  const exercises = useExercises().data;
  if (!drafts || !exercises) return null;
  const own = exercises.filter(({ origin }) => origin === 'own');
  if (own.some(({ set }) => set.length > 0)) return null;
  const at = own.length > 0 ? 3 : drafts.length > 0 ? 1 : 0;
  const [draft] = drafts;
  const [published] = own;
  return (
    <ol className="four-steps" aria-label="From a template to an assigned exercise">
      {STEPS.map(([title, text], k) => (
        <li key={title} data-state={k < at ? 'done' : k === at ? 'now' : undefined}>
          <strong>
            {k < at ? '✓' : k + 1} {title}
          </strong>
          <p>{text}</p>
          {k === at && k === 1 && draft && (
            <Link to={`/setter/${draft.id}`}>
              <Button size="small">Open the draft</Button>
            </Link>
          )}
          {k === at && k === 3 && published && (
            <Link to={`/exercises/${published.id}`}>
              <Button size="small">Open the exercise</Button>
            </Link>
          )}
        </li>
      ))}
    </ol>
  );
}
