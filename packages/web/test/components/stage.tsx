import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, render } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { ConfigProvider } from 'antd';
import { afterEach, beforeEach } from '@jest/globals';
import { MemoryRouter, Route, Routes } from 'react-router';
import type { ReactNode } from 'react';
import type { Person } from '@contactum/contract';
import { ASKING } from '../../src/api/queries.js';
import { ToastPlace } from '../../src/shell/toasts.js';

// Limits are against hanging alone, however slow and busy the machine is; whether each ancestor is shown
// takes most of a search.
configure({ asyncUtilTimeout: 120_000, defaultHidden: true });

export const INSTRUCTOR: Person = { id: 'i', login: 'brack', name: 'Ines Brack', role: 'instructor' };
export const STUDENT: Person = { id: 's', login: 'skerry', name: 'Ebba Skerry', role: 'student' };

/** A page in a document without a browser, over a server that answers what a test says. */

export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

type Answer = { readonly status?: number; readonly body?: unknown };

/** What was asked since the test began. */
const asked: Asked[] = [];
const answers = new Map<string, (request: Asked) => Answer | Promise<Answer>>();

/**
 * Says what the server answers to a route, or to all that begin alike (`GET /line/*`); a later word counts.
 */
export const answer = (
  route: string,
  reply: ((request: Asked) => Answer | Promise<Answer>) | Answer,
): void => {
  answers.set(route, typeof reply === 'function' ? reply : () => reply);
};

export const sent = (method: string, path: string): Asked[] =>
  asked.filter((one) => one.method === method && one.path === path);

const replyTo = (route: string) =>
  answers.get(route) ??
  [...answers].find(([known]) => known.endsWith('*') && route.startsWith(known.slice(0, -1)))?.[1];

const serve = async (input: string | URL | Request, init: RequestInit = {}): Promise<Response> => {
  const path = String(input).replace(/^.*\/api/, '');
  const request: Asked = {
    method: init.method ?? 'GET',
    path,
    body: typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined,
  };
  asked.push(request);
  const reply = replyTo(`${request.method} ${path}`);
  const { status = 200, body } = (await reply?.(request)) ?? {
    status: 404,
    body: { error: { type: 'not-found', message: `nothing answers ${request.method} ${path}` } },
  };
  return new Response(status === 204 ? null : JSON.stringify(body ?? null), { status });
};

beforeEach(() => {
  asked.length = 0;
  answers.clear();
  localStorage.clear();
  globalThis.fetch = serve as typeof fetch;
});
afterEach(cleanup);

/** Puts a page on the stage, at an address. */
export function show(page: ReactNode, { at = '/', path = '*' } = {}) {
  const client = new QueryClient({
    defaultOptions: { ...ASKING, queries: { ...ASKING.queries, staleTime: 0, retry: false } },
  });
  const user = userEvent.setup({ pointerEventsCheck: 0 });
  // Around the page, so that it is rendered again in the same place.
  const wrapper = ({ children }: { children: ReactNode }) => (
    <ConfigProvider theme={{ token: { motion: false }, zeroRuntime: true }}>
      <ToastPlace>
        <QueryClientProvider client={client}>
          <MemoryRouter initialEntries={[at]}>
            <Routes>
              <Route path={path} element={children} />
            </Routes>
          </MemoryRouter>
        </QueryClientProvider>
      </ToastPlace>
    </ConfigProvider>
  );
  const view = render(page, { wrapper });
  return { ...view, user, client };
}
