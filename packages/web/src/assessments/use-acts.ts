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
  // What comes next may be done while the page still learns what the last act has changed.
  const doing = acts.isPending ? acts.variables.act : null;
  return { go, say, isPending: acts.isPending, doing };
}
