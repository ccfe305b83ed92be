import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import type {
  AgreedRequest,
  AppealAnswer,
  AppealRequest,
  AssessmentForInstructor,
  AssessmentLikeness,
  AssessmentRequest,
  AssessmentSummary,
  Invigilation,
  LevelRequest,
  LookBack,
  ReviewRequest,
  SittingPulse,
  SittingView,
} from '@contactum/contract';
import { ask } from './client.js';

/** What the pages of assessments ask the server. */

/** How often a page looks how a sitting stands, milliseconds. */
const EVERY = 3_000;

export const useAssessments = (classId: string | undefined) =>
  useQuery({
    queryKey: ['assessments', classId],
    queryFn: () => ask<AssessmentSummary[]>('GET', `/classes/${classId}/assessments`),
    enabled: classId !== undefined,
  });

export const useAssessment = (id: string) =>
  useQuery({
    queryKey: ['assessment', id],
    queryFn: () => ask<AssessmentForInstructor>('GET', `/assessments/${id}`),
    refetchInterval: EVERY,
  });

const took = (client: QueryClient) => (view: AssessmentForInstructor) => {
  client.setQueryData(['assessment', view.id], view);
  void client.invalidateQueries({ queryKey: ['assessments'] });
};

export function useSetAssessment(classId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wanted: AssessmentRequest) =>
      ask<AssessmentForInstructor>('POST', `/classes/${classId}/assessments`, wanted),
    onSuccess: took(client),
  });
}

/** What an instructor does with an assessment; each answers how it stands then. */
export type AssessmentAct =
  | { readonly act: 'invigilate'; readonly body: Invigilation }
  | { readonly act: 'level'; readonly body: LevelRequest }
  | { readonly act: 'agree' | 'correct'; readonly body: AgreedRequest }
  | { readonly act: 'review'; readonly body: ReviewRequest }
  | { readonly act: 'sign off' | 'release' }
  | { readonly act: 'withdraw'; readonly withdrawn: boolean }
  | { readonly act: 'answer'; readonly appeal: string; readonly body: AppealAnswer };

function sent(id: string, one: AssessmentAct): Promise<AssessmentForInstructor> {
  const at = `/assessments/${id}`;
  switch (one.act) {
    case 'invigilate':
      return ask('POST', `${at}/invigilation`, one.body);
    case 'level':
      return ask('PUT', `${at}/levels`, one.body);
    case 'agree':
      return ask('PUT', `${at}/agreed`, one.body);
    case 'correct':
      return ask('PUT', `${at}/corrections`, one.body);
    case 'review':
      return ask('PUT', `${at}/reviews`, one.body);
    case 'sign off':
      return ask('POST', `${at}/sign-off`, {});
    case 'release':
      return ask('POST', `${at}/release`, {});
    case 'withdraw':
      return ask('PATCH', at, { withdrawn: one.withdrawn });
    case 'answer':
      return ask('POST', `/appeals/${one.appeal}`, one.body);
  }
}

export function useAssessmentActs(id: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (one: AssessmentAct) => sent(id, one),
    onSuccess: took(client),
  });
}

export const useLookBack = (id: string) =>
  useQuery({
    queryKey: ['look-back', id],
    queryFn: () => ask<LookBack>('GET', `/assessments/${id}/look-back`),
  });

export const useLikeness = (id: string, enabled: boolean) =>
  useQuery({
    queryKey: ['likeness', id],
    queryFn: () => ask<AssessmentLikeness[]>('GET', `/assessments/${id}/likeness`),
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
  });

// ── a student's own ─────────────────────────────────

export const useSittings = (enabled = true) =>
  useQuery({
    queryKey: ['sittings'],
    queryFn: () => ask<SittingView[]>('GET', '/sittings'),
    enabled,
    refetchInterval: 10_000,
  });

export const useSitting = (id: string) =>
  useQuery({
    queryKey: ['sitting', id],
    queryFn: () => ask<SittingView>('GET', `/sittings/${id}`),
    refetchInterval: EVERY,
  });

export function useSittingActs(id: string) {
  const client = useQueryClient();
  const keep = (view: SittingView) => client.setQueryData(['sitting', id], view);
  const start = useMutation({
    mutationFn: (code: string) => ask<SittingView>('POST', `/sittings/${id}/start`, { code }),
    onSuccess: keep,
  });
  const begin = useMutation({
    mutationFn: (task: string) => ask<{ attemptId: string }>('POST', `/sittings/${id}/tasks/${task}`, {}),
    onSuccess: () => client.invalidateQueries({ queryKey: ['sitting', id] }),
  });
  const handIn = useMutation({
    mutationFn: () => ask<SittingView>('POST', `/sittings/${id}/hand-in`, {}),
    onSuccess: keep,
  });
  const appeal = useMutation({
    mutationFn: (body: AppealRequest) => ask<SittingView>('POST', `/sittings/${id}/appeals`, body),
    onSuccess: keep,
  });
  return { start, begin, handIn, appeal };
}

/** This window, for as long as it is open: the one that was opened last works. */
const WINDOW = crypto.randomUUID();
const taken = new Set<string>();

/** Takes an assessment over into this window. */
export const takeOver = (id: string): void => void taken.delete(id);

/** Tells the server that this window is there, and what it says of the clock. */
export const usePulse = (id: string, enabled: boolean) =>
  useQuery({
    queryKey: ['pulse', id],
    queryFn: async () => {
      const takes = !taken.has(id);
      taken.add(id);
      return ask<SittingPulse>('POST', `/sittings/${id}/here`, { window: WINDOW, takes });
    },
    enabled,
    refetchInterval: 5_000,
    refetchIntervalInBackground: true,
    staleTime: 0,
  });
