/** Answers of the tus resumable upload protocol, version 1.0.0. */
import { MOST_UPLOAD } from '../services/uploads';

const VERSION = '1.0.0';

export const TUS = Object.freeze({
  abilities: {
    'tus-version': VERSION,
    'tus-extension': 'creation,termination',
    'tus-max-size': String(MOST_UPLOAD),
  },
});

export const tusResponse = (status: number, headers: Record<string, string> = {}): Response =>
  new Response(null, {
    status,
    headers: { 'tus-resumable': VERSION, 'cache-control': 'no-store', ...headers },
  });
