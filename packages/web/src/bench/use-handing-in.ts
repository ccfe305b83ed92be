import { useMutation } from '@tanstack/react-query';
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
  // Busy from the press on: what is not stored yet may take a while, and is handed in once.
  const all = useMutation({
    mutationFn: async () => {
      await settle();
      await handIn.mutateAsync(attemptId);
    },
    onSuccess: () => navigate(sitting ? `/sit/${sitting.assessmentId}` : `/slip/${attemptId}`),
    onError: (error: Error) => toast.error(error.message),
  });
  return { submit: () => all.mutate(), busy: all.isPending };
}
