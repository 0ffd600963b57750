/** The certificate of a write-back as PDF. */
import type { Certificate } from '@/core/assembly/certificate';
import { say } from '@/messages';
import { sheetPdf } from '@/server/platform/pdf/sheet-pdf';
import { certificateLines } from './certificate-lines';

export function certificatePdf(certificate: Certificate): Promise<Uint8Array> {
  const { source, target, outcome, sentence, writeback: id } = certificate;
  const ends = { source: source.code, target: target.code };
  const tone = outcome === 'proved' ? 'good' : 'bad';
  return sheetPdf({
    over: say.certificates.writeBack({ id }),
    head: say.certificates.head({ ...ends, outcome: say.certificates.outcomes[outcome] }),
    blocks: [
      { kind: 'text', text: sentence, tone },
      { kind: 'facts', facts: certificateLines(certificate) },
      { kind: 'signatures', under: [say.certificates.signed] },
    ],
  });
}
