import { useAssessmentActs, type AssessmentAct } from '../api/assessments.js';
import { useToasts } from '../shell/toasts.js';

/** What an instructor does with an assessment; what the server refuses is said. */
export function useActs(id: string) {
  const acts = useAssessmentActs(id);
  const toast = useToasts();
  const go = (one: AssessmentAct, done?: () => void): void =>
    acts.mutate(one, {
      onSuccess: () => done?.(),
      onError: (error) => {
        toast.error(error.message);
      },
    });
  const say = (text: string): void => {
    toast.success(text);
  };
  // The page is told of a change every few seconds, perhaps before the act that made it is answered.
  const doing = acts.isPending ? acts.variables.act : null;
  return { go, say, isPending: doing !== null, doing };
}
