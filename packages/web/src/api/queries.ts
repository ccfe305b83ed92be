import {
  QueryClient,
  type DefaultOptions,
  useMutation,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import type { Degree, Drawing, DrawingForm, HintDegree, Progress, Report } from '@contactum/core';
import type {
  AssignRequest,
  AssignmentForInstructor,
  AttemptSummary,
  AttemptView,
  Causes,
  ClassSummary,
  DiagnoseAnswer,
  DiagnoseRequest,
  Door,
  ExerciseForInstructor,
  ExerciseSummary,
  HintsView,
  InjectRequest,
  LinePlace,
  LiveSearch,
  MarkBook,
  Person,
  PointsRequest,
  RepairView,
  SearchExerciseRequest,
  SearchView,
  ScannerBox,
  SignInRequest,
  SignedOut,
  Slip,
  WatchedSearch,
} from '@contactum/contract';
import { ApiError, ask } from './client.js';
import { leaveAllBut } from './kept.js';
import { openVault, type Vault } from './vault.js';

/** How the server is asked. */
export const ASKING: DefaultOptions = {
  // What the browser thinks of the network is not asked: a server on this machine or on the workshop's own
  // network answers without an internet, and what cannot be sent is said, not kept waiting in silence.
  mutations: { networkMode: 'always' },
  queries: {
    networkMode: 'always',
    refetchOnReconnect: true,
    staleTime: 5_000,
    retry: (count, error) =>
      error instanceof ApiError && (error.status === 0 || error.status >= 500) && count < 3,
  },
};

export const queryClient = new QueryClient({ defaultOptions: ASKING });

const LAST_KEY = 'contactum.last';

/** Who was signed in here last: without the server, only the own bench sheets are opened by it. */
export function rememberedPerson(): Person | null {
  try {
    return JSON.parse(localStorage.getItem(LAST_KEY) ?? 'null') as Person | null;
  } catch {
    return null;
  }
}

async function session(): Promise<Person | null> {
  const person = await ask<Person | null>('GET', '/session');
  // Whoever was here before and is not any more leaves nothing that can be read.
  void leaveAllBut(person?.id ?? null).catch(() => undefined);
  localStorage.setItem(LAST_KEY, JSON.stringify(person));
  return person;
}

export const useSession = () =>
  useQuery({
    queryKey: ['session'],
    queryFn: session,
    staleTime: 60_000,
    // Where the browser thinks that there is no network it is known at once.
    retry: (count, error) => navigator.onLine && error instanceof ApiError && count < 3,
  });
export const useExercises = () =>
  useQuery({ queryKey: ['exercises'], queryFn: () => ask<ExerciseSummary[]>('GET', '/exercises') });
export const useExercise = (id: string) =>
  useQuery({
    queryKey: ['exercise', id],
    queryFn: () => ask<ExerciseForInstructor>('GET', `/exercises/${encodeURIComponent(id)}`),
  });
export const useClasses = (enabled = true) =>
  useQuery({ queryKey: ['classes'], queryFn: () => ask<ClassSummary[]>('GET', '/classes'), enabled });
export const useMarkBook = (id: string | undefined) =>
  useQuery({
    queryKey: ['marks', id],
    queryFn: () => ask<MarkBook>('GET', `/classes/${id ?? ''}/marks`),
    enabled: id !== undefined,
    refetchInterval: 10_000,
  });
export const useAttempt = (id: string) =>
  useQuery({
    queryKey: ['attempt', id],
    queryFn: () => ask<AttemptView>('GET', `/attempts/${id}`),
    staleTime: 0,
    gcTime: 0,
  });

/** When permission to energise was last given; asked again while the student works. */
export const usePermission = (id: string) =>
  useQuery({
    queryKey: ['permission', id],
    queryFn: () =>
      ask<AttemptView>('GET', `/attempts/${id}`).then(({ permittedAt, permittedAfter }) => ({
        permittedAt,
        permittedAfter,
      })),
    refetchInterval: 4_000,
  });

/** The reference of an exercise as a drawing. */
export const useReferenceDrawing = (id: string, form: DrawingForm, enabled = true) =>
  useQuery({
    queryKey: ['drawing', id, form],
    queryFn: () => ask<Drawing>('GET', `/exercises/${encodeURIComponent(id)}/drawing?form=${form}`),
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
  });

/** How far an attempt is wired, asked anew after each edit that is stored. */
export const useProgress = (id: string, enabled: boolean, after = 0) =>
  useQuery({
    queryKey: ['progress', id, ...(enabled ? [after] : [])],
    queryFn: () => ask<Progress | null>('GET', `/attempts/${id}/progress`),
    enabled: enabled && after >= 0,
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });

/** Hints of an attempt for the wiring that is stored. */
export const useHints = (id: string, enabled: boolean) =>
  useQuery({
    queryKey: ['hints', id],
    queryFn: () => ask<HintsView>('GET', `/attempts/${id}/hints`),
    enabled,
    staleTime: 0,
  });

export function useTakeHint(id: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (degree: HintDegree) => ask<HintsView>('POST', `/attempts/${id}/hints`, { degree }),
    onSuccess: (view) => client.setQueryData(['hints', id], view),
    // The wiring may be another one by now: which hint comes next is asked again.
    onError: () => client.invalidateQueries({ queryKey: ['hints', id] }),
  });
}

/** A slip; asked again every half second until it is marked. */
export const useSlip = (id: string) =>
  useQuery({
    queryKey: ['slip', id],
    queryFn: () => ask<Slip>('GET', `/attempts/${id}/slip`),
    refetchInterval: ({ state }) => (state.data && state.data.attempt.state === 'handed-in' ? 500 : false),
  });

/** A search that has not ended. */
export const isUnderWay = (view: RepairView | undefined): boolean =>
  view?.state === 'waiting' || view?.state === 'running';

/**
 * The repair of a marked wiring, looked for once it is asked for; a search goes on while somebody asks how
 * far it is.
 */
export const useRepair = (id: string, wanted: boolean) =>
  useQuery({
    queryKey: ['repair', id],
    queryFn: ({ client, queryKey }) =>
      isUnderWay(client.getQueryData<RepairView>(queryKey))
        ? ask<RepairView>('GET', `/attempts/${id}/repair`)
        : ask<RepairView>('POST', `/attempts/${id}/repair`, {}),
    enabled: wanted,
    staleTime: Number.POSITIVE_INFINITY,
    refetchInterval: ({ state }) => (isUnderWay(state.data) ? 500 : false),
    retry: false,
  });

export const cancelRepair = (id: string) => ask('DELETE', `/attempts/${id}/repair`);

/** What a person keeps here, opened; undefined while it is, null where it cannot be. */
export function useVault(personId: string): Vault | null | undefined {
  const { data, isPending } = useQuery({
    queryKey: ['vault', personId],
    queryFn: () => openVault(personId),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? (isPending ? undefined : null);
}

/** Another person sees nothing of what was fetched for the last one. */
function become(client: QueryClient, person: Person): void {
  client.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' });
  client.setQueryData(['session'], person);
  localStorage.setItem(LAST_KEY, JSON.stringify(person));
  void leaveAllBut(person.id).catch(() => undefined);
}

const signIn = (body: SignInRequest) => ask<Person>('POST', '/session', body);

/** What the sign-in page offers. */
export const useDoor = () =>
  useQuery({ queryKey: ['door'], queryFn: () => ask<Door>('GET', '/session/door') });

/** Where a sign-in stands, asked for once a second while it waits. */
export const useLinePlace = (ticket: string | null) =>
  useQuery({
    queryKey: ['line', ticket],
    queryFn: () => ask<LinePlace | null>('GET', `/session/line/${ticket}`),
    enabled: ticket !== null,
    refetchInterval: 1000,
    gcTime: 0,
  });

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: signIn,
    onSuccess: (person) => become(client, person),
  });
}

/** The same person again, whose session has run out while they worked: nothing of what is shown changes. */
export function useSignInAgain() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: signIn,
    onSuccess: (person) => client.setQueryData(['session'], person),
  });
}

/** Out by the front door: the page begins anew, and nothing of the last person stays in it. */
export const useSignOut = () =>
  useMutation({
    mutationFn: async () => {
      await leaveAllBut(null);
      return ask<SignedOut | null>('DELETE', '/session');
    },
    // Whoever came by the college's sign-on goes on to sign out there.
    onSettled: (out) => window.location.replace(out?.to ?? '/'),
  });

export function useAssign() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ classId, ...body }: AssignRequest & { classId: string }) =>
      ask<AssignmentForInstructor>('POST', `/classes/${classId}/assignments`, body),
    onSuccess: (_, { exerciseId }) =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['exercises'] }),
        client.invalidateQueries({ queryKey: ['exercise', exerciseId] }),
        client.invalidateQueries({ queryKey: ['marks'] }),
        client.invalidateQueries({ queryKey: ['settings'] }),
      ]),
  });
}

export const useOpenAttempt = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (assignmentId: string) =>
      ask<AttemptSummary>('POST', `/assignments/${assignmentId}/attempts`, {}),
    onSuccess: () => client.invalidateQueries({ queryKey: ['exercises'] }),
  });
};

export const useHandIn = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (attemptId: string) => ask<AttemptSummary>('POST', `/attempts/${attemptId}/hand-in`, {}),
    onSuccess: () => client.invalidateQueries({ queryKey: ['exercises'] }),
  });
};

export function useSlipChanges(id: string) {
  const client = useQueryClient();
  const keep = (slip: Slip) => {
    client.setQueryData(['slip', id], slip);
    return client.invalidateQueries({ queryKey: ['marks'] });
  };
  const remark = useMutation({
    mutationFn: (text: string) => ask<Slip>('POST', `/attempts/${id}/remarks`, { text }),
    onSuccess: keep,
  });
  const points = useMutation({
    mutationFn: (body: PointsRequest) => ask<Slip>('POST', `/attempts/${id}/points`, body),
    onSuccess: keep,
  });
  const permit = useMutation({
    mutationFn: () => ask<Slip>('POST', `/attempts/${id}/permission`, {}),
    onSuccess: keep,
  });
  const markAgain = useMutation({
    mutationFn: (exercise: 'set' | 'now') => ask<Slip>('POST', `/attempts/${id}/mark-again`, { exercise }),
    onSuccess: keep,
  });
  return { remark, points, permit, markAgain };
}

/** Stands for a sheet that a student has entered; its slip and the lists that it stands in are read anew. */
export function useConfirmSheet(id: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (permitted: boolean) => ask<null>('POST', `/attempts/${id}/sheet/confirm`, { permitted }),
    onSuccess: () =>
      Promise.all(
        [['slip', id], ['sheet', id], ['sheets', 'waiting'], ['marks']].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      ),
  });
}

/** A student's search; what is seen of its board is asked anew when the page is opened. */
export const useSearch = (id: string) =>
  useQuery({
    queryKey: ['search', id],
    queryFn: () => ask<SearchView>('GET', `/searches/${id}`),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

/** Causes that are left, worked out for so many lines of the notebook as were there when it was asked. */
export const useCauses = (id: string, after: number | null) =>
  useQuery({
    queryKey: ['causes', id, after],
    queryFn: () => ask<Causes>('GET', `/searches/${id}/causes`),
    enabled: after !== null,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
    retry: false,
  });

export const useEndPractice = (id: string) => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => ask<Report>('POST', `/searches/${id}/end`, {}),
    onSuccess: () => client.invalidateQueries({ queryKey: ['search', id] }),
  });
};

export const usePractice = () =>
  useMutation({
    mutationFn: (body: { exerciseId: string; degree: Degree }) =>
      ask<{ id: string }>('POST', '/practice', body),
  });

const openSearchOf = (attemptId: string) => ask<{ id: string }>('GET', `/attempts/${attemptId}/search`);

/** The page on which an attempt is worked at. */
export async function placeOfAttempt(id: string, task: ExerciseSummary['task'] | undefined): Promise<string> {
  if (task === 'find') return `/search/${(await openSearchOf(id)).id}`;
  return task === 'answer' ? `/answer/${id}` : `/bench/${id}`;
}

export const useDiagnose = (exerciseId: string) =>
  useMutation({
    mutationFn: (body: DiagnoseRequest) =>
      ask<DiagnoseAnswer>('POST', `/exercises/${encodeURIComponent(exerciseId)}/diagnose`, body),
  });

/** The searches of a class, followed while somebody looks. */
export const useClassSearches = (classId: string | undefined) =>
  useQuery({
    queryKey: ['searches', classId],
    queryFn: () => ask<LiveSearch[]>('GET', `/classes/${classId ?? ''}/searches`),
    enabled: classId !== undefined,
    refetchInterval: 2_000,
  });

export const useWatchedSearch = (id: string | null) =>
  useQuery({
    queryKey: ['watched', id],
    queryFn: () => ask<WatchedSearch>('GET', `/searches/${id ?? ''}/watch`),
    enabled: id !== null,
    refetchInterval: 1_000,
  });

/** Faults into live benches and out again. */
export function useFaultHands() {
  const client = useQueryClient();
  const onSuccess = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['searches'] }),
      client.invalidateQueries({ queryKey: ['watched'] }),
    ]);
  const inject = useMutation({
    mutationFn: (body: InjectRequest) => ask<LiveSearch[]>('POST', '/searches/inject', body),
    onSuccess,
  });
  const clear = useMutation({
    mutationFn: (searches: string[]) => ask<LiveSearch[]>('POST', '/searches/clear', { searches }),
    onSuccess,
  });
  return { inject, clear };
}

/** A set of faults of an instructor's own, as an exercise to find. */
export const useMakeSearch = () => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: SearchExerciseRequest) => ask<{ id: string }>('POST', '/searches/exercises', body),
    onSuccess: () => client.invalidateQueries({ queryKey: ['exercises'] }),
  });
};

/**
 * The scanners of the college.
 * @param every how often they are asked for again, milliseconds; once where nothing is said.
 */
export const useScanners = (every?: number) =>
  useQuery({
    queryKey: ['scanners'],
    queryFn: () => ask<ScannerBox[]>('GET', '/scanners'),
    refetchInterval: every ?? false,
  });
