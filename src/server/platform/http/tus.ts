/** Answers of the tus resumable upload protocol, version 1.0.0. */

const VERSION = '1.0.0';

export const tusResponse = (status: number, headers: Record<string, string> = {}): Response =>
  new Response(null, {
    status,
    headers: { 'tus-resumable': VERSION, 'cache-control': 'no-store', ...headers },
  });

export const tusAbilities = (maxBytes: number): Response =>
  tusResponse(204, {
    'tus-version': VERSION,
    'tus-extension': 'creation,termination',
    'tus-max-size': String(maxBytes),
  });
