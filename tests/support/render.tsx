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

export function renderWithQueries(element: ReactElement) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return render(element, { wrapper });
}
