import { useNavigate } from 'react-router';
import { useHandIn } from '../api/queries.js';
import { useToasts } from '../shell/toasts.js';

/** Hands an attempt in once everything is stored, and goes to its slip. */
export function useHandingIn(attemptId: string, settle: () => Promise<void>) {
  const toast = useToasts();
  const navigate = useNavigate();
  const handIn = useHandIn();
  const submit = () => {
    settle()
      .then(() => handIn.mutateAsync(attemptId))
      .then(() => navigate(`/slip/${attemptId}`))
      .catch((error: unknown) => toast.error((error as Error).message));
  };
  return { submit, busy: handIn.isPending };
}
