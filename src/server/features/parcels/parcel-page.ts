/** A page that lies in a parcel: what it holds, for whoever opens it in a browser, without us. */
import { formName } from '@/core/medium-form';
import type { BagFile } from '@/core/parcel/bag';
import { grouped } from '@/core/text/grouped';
import { xmlText } from '@/core/text/xml-text';
import { tell } from '@/messages/tell';
import { say } from '@/messages';
import type { media } from '../media/tables';
import type { parcels } from './tables';

export interface ShownMedium {
  medium: typeof media.$inferSelect;
  files: readonly BagFile[];
}

const STYLE =
  'body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#231f1b}' +
  'table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.2rem .8rem .2rem 0;' +
  'border-bottom:1px solid #d9cfbf;vertical-align:top}code{font-size:.8rem;word-break:break-all}' +
  'h2{margin-top:2rem}';

/** A path as an address beside the page: every part encoded. */
const addressOf = (path: string): string => path.split('/').map(encodeURIComponent).join('/');

const rowOf = ({ path, bytes, digests }: BagFile): string =>
  `<tr><td><a href="${xmlText(addressOf(path))}">${xmlText(path)}</a></td>` +
  `<td>${grouped(bytes)}</td><td><code>${digests.sha256}</code></td></tr>\n`;

function sectionOf({ medium, files }: ShownMedium): string {
  const { code, title, labelText, lender, lot, form } = medium;
  const about = [tell(formName(form)), labelText, lender, lot].filter(Boolean).join(' · ');
  return (
    `<h2>${xmlText(code)} · ${xmlText(title)}</h2>\n<p>${xmlText(about)}</p>\n` +
    `<table><thead><tr><th>${say.parcels.file}</th><th>${say.parcels.bytes}</th>` +
    `<th>SHA-256</th></tr></thead><tbody>\n${files.map(rowOf).join('')}</tbody></table>\n`
  );
}

export function parcelPage(
  { title, recipient, notes }: typeof parcels.$inferSelect,
  shown: readonly ShownMedium[],
): string {
  const heading = xmlText(title);
  return (
    '<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n' +
    `<title>${heading}</title>\n<style>${STYLE}</style>\n</head>\n<body>\n<h1>${heading}</h1>\n` +
    `<p>${xmlText(say.parcels.pageFor({ recipient, media: shown.length }))}</p>\n` +
    `<p>${xmlText(notes)}</p>\n<p>${xmlText(say.parcels.howToCheck)}</p>\n` +
    `${shown.map(sectionOf).join('')}</body>\n</html>\n`
  );
}
