/**
 * From whom what is taken in comes, and in which lot: said once for a batch, and kept in this tab
 * for the next one.
 */
export interface Whose {
  lender: string;
  lot: string;
}

const KEY = 'spindle-taken-in-of';
const NOBODY: Whose = { lender: '', lot: '' };

export function rememberedWhose(): Whose {
  try {
    const { lender = '', lot = '' } = JSON.parse(sessionStorage.getItem(KEY) ?? '{}');
    return { lender: String(lender), lot: String(lot) };
  } catch {
    return NOBODY;
  }
}

export function rememberWhose(whose: Whose): void {
  try {
    sessionStorage.setItem(KEY, JSON.stringify(whose));
  } catch {
    // Where nothing may be kept it is not offered again.
  }
}

/** As a request says it; what is not known is left out. */
export const inRequest = ({ lender, lot }: Whose): Record<string, string> => ({
  ...(lender && { lender }),
  ...(lot && { lot }),
});
