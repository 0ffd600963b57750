/** A certificate as a test needs one. */
import { Certificate, trackFigures } from '@/core/assembly/certificate';

export const madeCertificate = (own: Partial<Certificate> = {}): Certificate =>
  Certificate.parse({
    format: 'frail-spindle-certificate',
    version: 2,
    writeback: 7,
    source: {
      code: 'SKP-0104',
      title: 'Dues',
      lender: '',
      sha256: 'a'.repeat(64),
      bytes: 737_280,
      as: 'image',
      inDoubt: 0,
    },
    target: { code: 'BLK-0001', title: 'spare', form: '3½-inch', found: 'nothing' },
    station: { number: 2, model: 'a drive', serial: 'X-1' },
    layout: 'mfm-35-9x512',
    machine: null,
    precompensated: false,
    outcome: 'proved',
    sentence: 'Proved.',
    ...trackFigures([]),
    blocks: null,
    trial: null,
    operator: 'Tam Okoro',
    startedAt: '2026-11-27T08:00:00.000Z',
    endedAt: null,
    ...own,
  });
