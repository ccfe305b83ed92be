import { useNavigate } from 'react-router';
import type { AttemptView } from '@contactum/contract';
import { useHandIn } from '../api/queries.js';
import { useToasts } from '../shell/toasts.js';

/** Hands an attempt in once everything is stored, and goes to its slip, or to the other tasks of its assessment. */
export function useHandingIn(
  { attempt: { id: attemptId }, sitting }: AttemptView,
  settle: () => Promise<void>,
) {
  const toast = useToasts();
  const navigate = useNavigate();
  const handIn = useHandIn();
  const submit = () => {
    settle()
      .then(() => handIn.mutateAsync(attemptId))
      .then(() => navigate(sitting ? `/sit/${sitting.assessmentId}` : `/slip/${attemptId}`))
      .catch((error: unknown) => toast.error((error as Error).message));
  };
  return { submit, busy: handIn.isPending };
}
