'use client';
/**
 * Another recovery setting for this track, tried as it is set; what it makes better may be kept,
 * with its reason.
 */
import { GRADE_WORDS } from '@/messages/names';
import { Dispatch, SetStateAction, useState } from 'react';
import { SETTING_LIMITS, type RecoverySetting } from '@/core/encoding';
import type { TrackSector } from '@/core/reading/track-sector';
import { isSound } from '@/core/reading/grades';
import { ErrorAlert } from '../parts/page';
import { say } from '@/messages';

/** Starting points, by what they are good for. */
const STARTS: readonly { name: string; setting: RecoverySetting }[] = [
  {
    name: say.loupe.speedThatFaltered,
    setting: { phaseGain: 0.6, rateGain: 0.1, shiftGain: 0, drift: 0.4, cell: 1 },
  },
  {
    name: say.loupe.muchJitter,
    setting: { phaseGain: 0.15, rateGain: 0.003, shiftGain: 0, drift: 0.1, cell: 1 },
  },
  {
    name: say.loupe.crowdedInnerTracks,
    setting: { phaseGain: 0.25, rateGain: 0.006, shiftGain: 0.35, drift: 0.12, cell: 1 },
  },
];

const PARTS: readonly { part: keyof RecoverySetting; name: string; step: number }[] = [
  { part: 'phaseGain', name: say.loupe.ofAnErrorTaken, step: 0.01 },
  { part: 'rateGain', name: say.loupe.ofItPutInto, step: 0.001 },
  { part: 'drift', name: say.loupe.theCellMayDrift, step: 0.01 },
  { part: 'cell', name: say.loupe.ofTheFittedCell, step: 0.01 },
  { part: 'shiftGain', name: say.loupe.ofPeakShiftTaken, step: 0.01 },
];

interface Outcome {
  /** Sectors as they are settled with the setting. */
  sectors: readonly TrackSector[];
  milliseconds: number;
}

/** What a setting changes, sector by sector. */
function changesOf(
  before: readonly TrackSector[],
  after: readonly TrackSector[],
): { r: number; from: string; to: string; better: boolean }[] {
  return after.flatMap((sector) => {
    const was = before.find(
      ({ r, size, angle }) =>
        r === sector.r &&
        size === sector.size &&
        (angle === null || sector.angle === null || Math.abs(angle - sector.angle) < 0.02),
    );
    if (was && was.grade === sector.grade) return [];
    return [
      {
        r: sector.r,
        from: was ? GRADE_WORDS[was.grade] : say.loupe.notSeen,
        to: GRADE_WORDS[sector.grade],
        better: isSound(sector.grade) && !isSound(was?.grade ?? 'lost'),
      },
    ];
  });
}

interface SettingFormProps {
  setting: RecoverySetting | null;
  onSet: (setting: RecoverySetting | null) => void;
  before: readonly TrackSector[];
  outcome: Outcome | null;
  working: boolean;
  onKeep: (reason: string) => void;
  keeping: boolean;
  trouble: string | undefined;
}

export function SettingForm({
  setting,
  onSet,
  before,
  outcome,
  working,
  onKeep,
  keeping,
  trouble,
}: SettingFormProps) {
  const [reason, setReason] = useState('');
  const changes = outcome ? changesOf(before, outcome.sectors) : [];
  const better = changes.filter((change) => change.better);
  return (
    <section aria-label={say.loupe.anotherRecovery} data-testid="setting" className="text-[13px]">
      <h2 className="mb-1">{say.loupe.anotherRecovery}</h2>
      <SettingStarts setting={setting} onSet={onSet} />
      <SettingOutcome setting={setting} working={working} outcome={outcome} changes={changes} />
      {setting && better.length > 0 && (
        <KeepForm onKeep={onKeep} reason={reason} setReason={setReason} keeping={keeping} />
      )}
      {setting &&
        PARTS.map(({ part, name, step }) => {
          const [least, most] = SETTING_LIMITS[part];
          return (
            <SettingPart
              key={part}
              setting={setting}
              part={part}
              name={name}
              least={least}
              most={most}
              step={step}
              onSet={onSet}
            />
          );
        })}
      <ErrorAlert>{trouble}</ErrorAlert>
    </section>
  );
}

interface SettingOutcomeProps {
  setting: RecoverySetting | null;
  working: boolean;
  outcome: Outcome | null;
  changes: { r: number; from: string; to: string; better: boolean }[];
}

interface SettingStartsProps {
  setting: RecoverySetting | null;
  onSet: SettingFormProps['onSet'];
}

function SettingStarts({ setting, onSet }: SettingStartsProps) {
  return (
    <div className="mb-2 flex flex-wrap gap-1.5">
      {STARTS.map(({ name, setting: start }) => (
        <button
          key={name}
          type="button"
          onClick={() => onSet(start)}
          className="rounded-sm border border-line bg-sheet px-2 py-1 hover:border-ink-3"
        >
          {name}
        </button>
      ))}
      {setting && (
        <button
          type="button"
          onClick={() => onSet(null)}
          className="rounded-sm border border-line bg-sheet px-2 py-1 hover:border-ink-3"
        >
          {say.loupe.asItWas}
        </button>
      )}
    </div>
  );
}

interface SettingPartProps {
  setting: RecoverySetting;
  part: keyof RecoverySetting;
  name: string;
  least: number;
  most: number;
  step: number;
  onSet: SettingFormProps['onSet'];
}

function SettingPart({ setting, part, name, least, most, step, onSet }: SettingPartProps) {
  return (
    <label className="grid grid-cols-[52px_1fr] items-center gap-x-2 text-ink-2">
      <b className="text-right text-ink">
        {(setting[part] * 100).toFixed(part === 'rateGain' ? 1 : 0)} %
      </b>
      <span>{name}</span>
      <input
        type="range"
        min={least}
        max={most}
        step={step}
        value={setting[part]}
        onChange={(event) => onSet({ ...setting, [part]: Number(event.target.value) })}
        className="col-span-2"
      />
    </label>
  );
}

function SettingOutcome({ setting, working, outcome, changes }: SettingOutcomeProps) {
  return (
    <p aria-live="polite" className="mt-2 min-h-10" data-testid="setting-outcome">
      {!setting ? (
        say.loupe.everyUsualRecoveryWas
      ) : working || !outcome ? (
        say.loupe.tryingIt
      ) : changes.length === 0 ? (
        say.loupe.itChangesNothingMs({ milliseconds: Math.round(outcome.milliseconds) })
      ) : (
        <>
          <b>{changes.map(({ r, from, to }) => say.loupe.sector2({ r, from, to })).join('; ')}</b>{' '}
          {say.loupe.ms({ milliseconds: Math.round(outcome.milliseconds) })}
        </>
      )}
    </p>
  );
}

interface KeepFormProps {
  onKeep: (reason: string) => void;
  reason: string;
  setReason: Dispatch<SetStateAction<string>>;
  keeping: boolean;
}

function KeepForm({ onKeep, reason, setReason, keeping }: KeepFormProps) {
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(reason);
      }}
      className="mt-1"
    >
      <label className="text-ink-2">
        {say.loupe.whyItIsBetter}
        <textarea
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          required
          maxLength={500}
          rows={2}
          className="mt-0.5 block w-full border border-line bg-sheet px-2 py-1 text-[14px] text-ink"
        />
      </label>
      <button
        type="submit"
        disabled={keeping}
        className={
          'mt-1 min-h-9 w-full rounded-sm border border-oxide bg-oxide px-3 font-[650] ' +
          'text-oxide-ink disabled:opacity-45'
        }
      >
        {say.loupe.keepItForThis}
      </button>
    </form>
  );
}
