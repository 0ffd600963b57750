/** Components as a page has them: with queries of their own, and answers that a test gives. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactElement, ReactNode } from 'react';

/** Answers by path; asked for anything else, the test fails. Gives the paths that were asked. */
export function answerWith(answers: Record<string, unknown>): string[] {
  const asked: string[] = [];
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    if (!(path in answers)) throw new Error(`nobody answers ${path}`);
    return { ok: true, status: 200, json: async () => answers[path] };
  }) as unknown as typeof fetch;
  return asked;
}

interface Sent {
  path: string;
  body: unknown;
}

/** Keeps what is sent, and answers each with `answer`; a status of 400 and more is a refusal. */
export function keepSent(answer: unknown = {}, status = 200): Sent[] {
  const sent: Sent[] = [];
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    if (init?.method === 'POST') sent.push({ path, body: JSON.parse(String(init.body)) });
    const given = init?.method === 'POST' ? answer : {};
    return { ok: init?.method !== 'POST' || status < 400, status, json: async () => given };
  }) as unknown as typeof fetch;
  return sent;
}

interface Asked {
  method: string;
  path: string;
  body: unknown;
}

interface Served {
  /** What is answered to a question, by its path where it is a function. */
  get?: unknown;
  /** What is answered to a change, and with which status. */
  answer?: unknown;
  status?: number;
}

/** A server in a word: questions have their answers, changes are kept and answered. */
export function serve({ get = {}, answer = {}, status = 200 }: Served = {}): Asked[] {
  const asked: Asked[] = [];
  globalThis.fetch = (async (path: string, { method = 'GET', body }: RequestInit = {}) => {
    asked.push({ method, path, body: body ? JSON.parse(String(body)) : null });
    const given = typeof get === 'function' ? (get as (path: string) => unknown)(path) : get;
    return method === 'GET'
      ? { ok: true, status: 200, json: async () => given }
      : { ok: status < 400, status, json: async () => answer };
  }) as unknown as typeof fetch;
  return asked;
}

/** Answers what was asked only when the function that is given back is called. */
export function answerLate(answerTo: (path: string) => unknown): () => Promise<void> {
  const held: (() => void)[] = [];
  globalThis.fetch = ((path: string) =>
    new Promise((resolve) =>
      held.push(() => resolve({ ok: true, status: 200, json: async () => answerTo(path) })),
    )) as unknown as typeof fetch;
  return async () => {
    for (const answer of held.splice(0)) answer();
    // A turn of the event loop for the answer's body, and one for what hangs on it.
    for (let i = 0; i < 2; i++) await new Promise((resolve) => setTimeout(resolve));
  };
}

/** Refuses whatever is asked. */
export function refuseAll(error: string, status: number): void {
  globalThis.fetch = (async () => ({
    ok: false,
    status,
    json: async () => ({ error }),
  })) as unknown as typeof fetch;
}

/** Of what was asked, that which changes something. */
export const changesIn = (asked: readonly Asked[]) =>
  asked.filter(({ method }) => method !== 'GET').map(({ path, body }) => ({ path, body }));

export function renderWithQueries(element: ReactElement) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return render(element, { wrapper });
}
