/** Addresses of pages that are named by what somebody called something. */

/** The docket of a medium, or a page of it; `rest` is what follows, `/bytes` or `#surface`. */
export const docketPage = (code: string, rest = ''): string =>
  `/media/${encodeURIComponent(code)}${rest}`;

/** Two media side by side. */
export const sideBySidePage = (one: string, other: string): string =>
  `/holdings/alike/${encodeURIComponent(one)}/${encodeURIComponent(other)}`;

/** Labels to print. */
export const labelsPage = (codes: readonly string[]): string =>
  `/labels?codes=${codes.map(encodeURIComponent).join(',')}`;

/** The page of a lot, a set, a lender or a machine. */
export const recordPageOf = (
  kind: 'lots' | 'sets' | 'lenders' | 'machines',
  name: string,
): string => `/${kind}/${encodeURIComponent(name)}`;

/** The report on a lot, for whoever lent it. */
export const reportPageOf = (lot: string): string => `${recordPageOf('lots', lot)}/report`;
