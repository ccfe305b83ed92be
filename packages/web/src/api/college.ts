import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Exercise } from '@contactum/core';
import type {
  AssignmentForInstructor,
  AuditLine,
  ClassChange,
  Draft,
  DraftSummary,
  EnrolAnswer,
  EnrolRequest,
  ExerciseTroubles,
  ExerciseVersion,
  FirstPassword,
  ImportAnswer,
  Person,
  PersonRequest,
  PersonRow,
  Published,
  Invitation,
  Notice,
  Roster,
  SettingRequest,
  SkillsMap,
  SkillsView,
  StudentRecord,
} from '@contactum/contract';
import { ApiError, ask } from './client.js';

/** What the Setter, the classes and the college ask the server. */

const encoded = encodeURIComponent;

// ── drafts ────────────────────────────────────────────────────────────────────────────────────────

export const useDrafts = () =>
  useQuery({ queryKey: ['drafts'], queryFn: () => ask<DraftSummary[]>('GET', '/drafts') });

export const useDraft = (id: string) =>
  useQuery({
    queryKey: ['draft', id],
    queryFn: () => ask<Draft>('GET', `/drafts/${id}`),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });

export function useBeginDraft() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { document?: Exercise; from?: string; next?: boolean }) =>
      ask<Draft>('POST', '/drafts', body),
    onSuccess: () => client.invalidateQueries({ queryKey: ['drafts'] }),
  });
}

export function useDiscardDraft() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => ask('DELETE', `/drafts/${id}`),
    onSuccess: () => client.invalidateQueries({ queryKey: ['drafts'] }),
  });
}

/** Publishes a draft, or says what stands against it. */
export const publish = (id: string, note: string): Promise<Published> =>
  ask<Published>('POST', `/drafts/${id}/publish`, { note });

export function usePublish(id: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (note: string) => publish(id, note),
    onSuccess: () =>
      Promise.all(
        ['drafts', 'exercises', 'exercise', 'versions'].map((key) =>
          client.invalidateQueries({ queryKey: [key] }),
        ),
      ),
  });
}

export const useSkills = () =>
  useQuery({ queryKey: ['skills'], queryFn: () => ask<SkillsView>('GET', '/skills') });

export const useSkillsMap = (classId: string) =>
  useQuery({
    queryKey: ['skills', classId],
    queryFn: () => ask<SkillsMap>('GET', `/classes/${classId}/skills`),
  });

export const useVersions = (exerciseId: string) =>
  useQuery({
    queryKey: ['versions', exerciseId],
    queryFn: () => ask<ExerciseVersion[]>('GET', `/exercises/${encoded(exerciseId)}/versions`),
  });

export function useRetire() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, retired }: { id: string; retired: boolean }) =>
      ask('PATCH', `/exercises/${encoded(id)}`, { retired }),
    onSuccess: () =>
      Promise.all(['exercises', 'exercise'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}

/** A library as it lies on this machine; first only looked at. */
export async function sendLibrary(file: File, commit: boolean): Promise<ImportAnswer> {
  const response = await fetch(`/api/library?name=${encoded(file.name)}${commit ? '&commit=yes' : ''}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: file,
  });
  const value = (await response.json().catch(() => null)) as
    (ImportAnswer & { error?: { message: string } }) | null;
  if (!response.ok || !value)
    throw new ApiError(
      response.status,
      'internal',
      value?.error?.message ?? `The server answered ${response.status}.`,
    );
  return value;
}

// ── classes ───────────────────────────────────────────────────────────────────────────────────────

export const useRoster = (id: string | undefined) =>
  useQuery({
    queryKey: ['roster', id],
    queryFn: () => ask<Roster>('GET', `/classes/${id ?? ''}`),
    enabled: id !== undefined,
  });

/** What is done with a class; each answers with the class as it then is. */
export function useClassHands(id: string) {
  const client = useQueryClient();
  const keep = (roster: Roster) => {
    client.setQueryData(['roster', id], roster);
    return client.invalidateQueries({ queryKey: ['classes'] });
  };
  const hand = <T>(work: (given: T) => Promise<Roster>) => ({ mutationFn: work, onSuccess: keep });
  return {
    change: useMutation(hand((body: ClassChange) => ask<Roster>('PATCH', `/classes/${id}`, body))),
    addInstructor: useMutation(
      hand((login: string) => ask<Roster>('POST', `/classes/${id}/instructors`, { login })),
    ),
    removeInstructor: useMutation(
      hand((person: string) => ask<Roster>('DELETE', `/classes/${id}/instructors/${person}`)),
    ),
    removeMember: useMutation(
      hand((person: string) => ask<Roster>('DELETE', `/classes/${id}/members/${person}`)),
    ),
    putGroup: useMutation(
      hand(({ groupId, ...body }: { groupId: string | null; name: string; members: readonly string[] }) =>
        groupId === null
          ? ask<Roster>('POST', `/classes/${id}/groups`, body)
          : ask<Roster>('PUT', `/classes/${id}/groups/${groupId}`, body),
      ),
    ),
    removeGroup: useMutation(
      hand((group: string) => ask<Roster>('DELETE', `/classes/${id}/groups/${group}`)),
    ),
    addMember: useMutation({
      mutationFn: (body: { login: string; name?: string }) =>
        ask<{ roster: Roster; password: FirstPassword | null }>('POST', `/classes/${id}/members`, body),
      onSuccess: ({ roster }) => keep(roster),
    }),
    enrol: useMutation({
      mutationFn: (body: EnrolRequest) => ask<EnrolAnswer>('POST', `/classes/${id}/enrol`, body),
      onSuccess: ({ committed }) =>
        committed &&
        Promise.all(['roster', 'classes'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
    }),
  };
}

export function useFoundClass() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; term: string }) => ask<Roster>('POST', '/classes', body),
    onSuccess: () => client.invalidateQueries({ queryKey: ['classes'] }),
  });
}

export const useSettings = (classId: string | undefined) =>
  useQuery({
    queryKey: ['settings', classId],
    queryFn: () => ask<AssignmentForInstructor[]>('GET', `/classes/${classId ?? ''}/assignments`),
    enabled: classId !== undefined,
  });

export function useChangeSetting() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...body }: SettingRequest & { id: string }) =>
      ask<AssignmentForInstructor>('PATCH', `/assignments/${id}`, body),
    onSuccess: () =>
      Promise.all(
        ['settings', 'exercises', 'exercise', 'marks'].map((key) =>
          client.invalidateQueries({ queryKey: [key] }),
        ),
      ),
  });
}

export function useJoin() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (code: string) => ask<{ className: string }>('POST', '/join', { code }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['exercises'] }),
  });
}

/** Classes that a student is asked to join, and the answer. */
export const useInvitations = () =>
  useQuery({ queryKey: ['invitations'], queryFn: () => ask<Invitation[]>('GET', '/invitations') });

export function useAnswerInvitation() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ classId, yes }: { classId: string; yes: boolean }) =>
      ask<null>('POST', `/invitations/${classId}`, { yes }),
    onSettled: () =>
      Promise.all(['invitations', 'exercises'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}

/** What others did with people whom one teaches. */
export const useNotices = (enabled: boolean) =>
  useQuery({
    queryKey: ['notices'],
    queryFn: () => ask<Notice[]>('GET', '/notices'),
    enabled,
    refetchInterval: 60_000,
  });

export function useDismissNotice() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => ask<null>('DELETE', `/notices/${id}`),
    onSettled: () => client.invalidateQueries({ queryKey: ['notices'] }),
  });
}

// ── people and records ────────────────────────────────────────────────────────────────────────────

export const usePeople = (text: string, role: string | undefined) =>
  useQuery({
    queryKey: ['people', text, role],
    queryFn: () => ask<PersonRow[]>('GET', `/people?text=${encoded(text)}${role ? `&role=${role}` : ''}`),
    placeholderData: (before) => before,
  });

export function usePeopleHands() {
  const client = useQueryClient();
  const onSuccess = () =>
    Promise.all(['people', 'roster'].map((key) => client.invalidateQueries({ queryKey: [key] })));
  return {
    add: useMutation({
      mutationFn: (body: PersonRequest) => ask<FirstPassword>('POST', '/people', body),
      onSuccess,
    }),
    change: useMutation({
      mutationFn: ({ id, ...body }: Partial<PersonRequest> & { id: string }) =>
        ask<Person>('PATCH', `/people/${id}`, body),
      onSuccess,
    }),
    reset: useMutation({
      mutationFn: (id: string) => ask<FirstPassword>('POST', `/people/${id}/reset`, {}),
      onSuccess,
    }),
    end: useMutation({
      mutationFn: (id: string) => ask<{ ended: number }>('POST', `/people/${id}/end-sessions`, {}),
      onSuccess,
    }),
    erase: useMutation({ mutationFn: (id: string) => ask('DELETE', `/people/${id}`), onSuccess }),
  };
}

export const useAudit = (filter: { kind?: string | undefined; text: string; before?: string | undefined }) =>
  useQuery({
    queryKey: ['audit', filter],
    queryFn: () =>
      ask<AuditLine[]>(
        'GET',
        `/audit?text=${encoded(filter.text)}${filter.kind ? `&kind=${encoded(filter.kind)}` : ''}${filter.before ? `&before=${filter.before}` : ''}`,
      ),
    placeholderData: (before) => before,
  });

export function useSetPassword() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { password: string; next: string }) => ask<Person>('POST', '/session/password', body),
    onSuccess: (person) => client.setQueryData(['session'], person),
  });
}

export function useJoinNew() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { code: string; name: string; login: string; password: string }) =>
      ask<Person>('POST', '/session/join', body),
    onSuccess: (person) => client.setQueryData(['session'], person),
  });
}

export const endOtherSessions = () => ask<Person>('POST', '/session/end-others', {});

// ── marks ─────────────────────────────────────────────────────────────────────────────────────────

export const useTroubles = (enabled: boolean) =>
  useQuery({ queryKey: ['troubles'], queryFn: () => ask<ExerciseTroubles[]>('GET', '/troubles'), enabled });

export const useStudentRecord = (classId: string, studentId: string | null) =>
  useQuery({
    queryKey: ['record', classId, studentId],
    queryFn: () => ask<StudentRecord>('GET', `/classes/${classId}/students/${studentId ?? ''}`),
    enabled: studentId !== null,
  });
