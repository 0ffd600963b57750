/** Whole media from drives that deliver no flux, alone or beside what other drives gave as flux. */
import type { FormFactor } from '@/core/flux/container';
import type { Layout } from '@/core/layout/layout';
import { bestMatch, matchLayouts } from '@/core/layout/match';
import { proposeLayout } from '@/core/layout/propose';
import { evidenceOf, type CaptureDecode } from '../decode/decode-capture';
import { expectationAt } from '../decode/expectation';
import { isSound } from '../grades';
import { settleTold, type ControllerTrack } from './controller-tracks';
import type { TrackDecode } from '../decode/track-decoder';

function byTrack(controller: readonly ControllerTrack[]): ControllerTrack[][] {
  const groups = new Map<number, ControllerTrack[]>();
  for (const track of controller) {
    const key = track.cylinder * 2 + track.head;
    groups.set(key, [...(groups.get(key) ?? []), track]);
  }
  return [...groups].sort(([a], [b]) => a - b).map(([, group]) => group);
}

/** Settles what a drive told of a whole medium; the layout is found from the IDs, as from flux. */
export function decodeTold(
  controller: readonly ControllerTrack[],
  layouts: readonly Layout[],
  form: FormFactor | null,
  rpm: number,
): CaptureDecode {
  const groups = byTrack(controller);
  const evidence = groups.map((group) => evidenceOf(settleTold(group, null, rpm)));
  const matches = matchLayouts(layouts, form, evidence);
  const match = bestMatch(matches);
  const stepping = match?.stepping ?? 1;
  const tracks = groups.map((group) =>
    settleTold(
      group,
      match && expectationAt(match.layout, stepping, group[0]!.cylinder, group[0]!.head),
      rpm,
    ),
  );
  return {
    layout: match?.layout ?? null,
    stepping,
    matches,
    proposal: match ? null : proposeLayout(evidence, form, rpm),
    tracks,
    strange: [],
    drive: { tickHz: 0, rpm },
    driveAssumed: false,
  };
}

/**
 * What flux gave, with sectors that it left unsound and tracks that it lacks taken from what a
 * drive told.
 */
export function withToldTracks(
  decoded: CaptureDecode,
  controller: readonly ControllerTrack[],
  rpm: number,
): CaptureDecode {
  if (controller.length === 0) return decoded;
  const { layout, stepping } = decoded;
  const known = new Map(decoded.tracks.map((track) => [track.cylinder * 2 + track.head, track]));
  for (const group of byTrack(controller)) {
    const { cylinder, head } = group[0]!;
    const own = settleTold(group, layout && expectationAt(layout, stepping, cylinder, head), rpm);
    const key = cylinder * 2 + head;
    const flux = known.get(key);
    known.set(key, flux ? filledFrom(flux, own) : own);
  }
  return { ...decoded, tracks: [...known].sort(([a], [b]) => a - b).map(([, track]) => track) };
}

function filledFrom(track: TrackDecode, controller: TrackDecode): TrackDecode {
  const sound = new Map(
    controller.sectors
      .filter(({ grade }) => isSound(grade))
      .map((sector) => [`${sector.r}/${sector.size}`, sector]),
  );
  return {
    ...track,
    sectors: track.sectors.map((sector) => {
      const from = isSound(sector.grade) ? undefined : sound.get(`${sector.r}/${sector.size}`);
      // What another reading than the first pass of flux supplied is mended, and lies where flux
      // saw it.
      return from
        ? {
            ...from,
            grade: 'mended' as const,
            mending: 'another-pass' as const,
            angle: sector.angle,
            span: sector.span,
          }
        : sector;
    }),
  };
}
