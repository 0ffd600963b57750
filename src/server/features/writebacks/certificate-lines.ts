/** The certificate of a write-back in lines for paper: what each is called, and what it says. */
import type { Certificate } from '@/core/assembly/certificate';
import { say } from '@/messages';

type Line = readonly [label: string, text: string];
const TRACKS_NAMED = 12;
const STRETCHES_NAMED = 8;

const day = (at: string): string => `${at.slice(0, 10)}, ${at.slice(11, 16)} UTC`;

const line = (label: string, text: string): Line => [label, text];

function sourceLines({ source }: Certificate): Line[] {
  const flux = source.as === 'flux' ? say.certificates.asFlux : '';
  const doubt = source.inDoubt > 0 ? say.certificates.inDoubt(source) : '';
  return [
    line(say.certificates.madeFrom, say.certificates.source(source)),
    line(say.certificates.image, say.certificates.imageIs(source) + flux + doubt),
  ];
}

function layoutLines({ layout, machine, precompensated }: Certificate): Line[] {
  const shifted = precompensated ? say.certificates.precompensated : '';
  return [
    ...(layout ? [line(say.certificates.layout, layout + shifted)] : []),
    ...(machine ? [line(say.certificates.meantFor, machine)] : []),
  ];
}

function trackLines({ tracks, margin }: Certificate): Line[] {
  const lines: Line[] = [];
  if (tracks) {
    const { failed } = tracks;
    const named = failed.slice(0, TRACKS_NAMED).map(say.certificates.place).join(', ');
    const others = failed.length > TRACKS_NAMED ? say.certificates.andOthers : '';
    const which = named && say.certificates.failed({ named: named + others });
    lines.push(line(say.certificates.tracks, say.certificates.tracksProved(tracks) + which));
  }
  if (margin) {
    const [mean, worst] = [margin.meanSpread, margin.worstSpread].map((spread) =>
      (100 * spread).toFixed(1),
    ) as [string, string];
    const place = say.certificates.place(margin.worstAt);
    lines.push(line(say.certificates.margin, say.certificates.marginIs({ mean, worst, place })));
  }
  return lines;
}

function blockLines({ blocks }: Certificate): Line[] {
  if (!blocks) return [];
  const named = blocks.failed.slice(0, STRETCHES_NAMED).map(say.certificates.stretch).join(', ');
  const which = named && say.certificates.failed({ named });
  return [line(say.certificates.blocks, say.certificates.blocksProved(blocks) + which)];
}

function trialText({ trial }: Certificate): string {
  if (!trial) return say.certificates.nobodyHasSaid;
  const { note, by, at } = trial;
  return say.certificates.trialIs({
    outcome: say.certificates.trials[trial.outcome],
    note,
    by,
    at: day(at),
  });
}

export function certificateLines(certificate: Certificate): Line[] {
  const { target, station, operator, startedAt, endedAt } = certificate;
  const to = endedAt && day(endedAt);
  return [
    ...sourceLines(certificate),
    line(say.certificates.writtenTo, say.certificates.target(target)),
    line(say.certificates.by, say.certificates.station(station)),
    ...layoutLines(certificate),
    ...trackLines(certificate),
    ...blockLines(certificate),
    line(say.certificates.doneBy, say.certificates.worked({ operator, from: day(startedAt), to })),
    line(say.certificates.trial, trialText(certificate)),
  ];
}
