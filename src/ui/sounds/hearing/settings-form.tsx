'use client';
/** Depth, order, sign, channels, rate and beginning of bytes that are heard as they lie. */
import type { ReactNode } from 'react';
import { RAW_VALUES, RawSettings } from '@/core/sound/raw-sound';
import { say } from '@/messages';

interface SettingsFormProps {
  settings: RawSettings;
  setSettings: (settings: RawSettings) => void;
}

const FIELD = 'border border-line bg-sheet px-2 py-1';

/** What has no order, and what has no sign. */
const WITHOUT_ORDER = new Set(['8', 'a-law', 'u-law']);
const WITHOUT_SIGN = new Set(['a-law', 'u-law']);

export function SettingsForm({ settings, setSettings }: SettingsFormProps) {
  const set = (change: Partial<RawSettings>) => setSettings({ ...settings, ...change });
  const { values, isBigEndian, isSigned, channels } = settings;
  return (
    <form
      aria-label={say.sounds.howItIsSet}
      onSubmit={(event) => event.preventDefault()}
      className="grid gap-3 text-[13px]"
    >
      <Choice
        label={say.sounds.depth}
        value={values}
        options={RAW_VALUES.map((each) => [each, say.sounds.valuesOf[each]])}
        onChoose={(each) => set({ values: each as RawSettings['values'] })}
      />
      <Choice
        label={say.sounds.sign}
        value={isSigned ? 'zero' : 'middle'}
        isOff={WITHOUT_SIGN.has(values)}
        options={[
          ['middle', say.sounds.fromTheMiddle],
          ['zero', say.sounds.fromZero],
        ]}
        onChoose={(from) => set({ isSigned: from === 'zero' })}
      />
      <Choice
        label={say.sounds.order}
        value={isBigEndian ? 'greatest' : 'least'}
        isOff={WITHOUT_ORDER.has(values)}
        options={[
          ['least', say.sounds.leastFirst],
          ['greatest', say.sounds.greatestFirst],
        ]}
        onChoose={(first) => set({ isBigEndian: first === 'greatest' })}
      />
      <Choice
        label={say.sounds.channels}
        value={String(channels)}
        options={[
          ['1', say.sounds.oneChannel],
          ['2', say.sounds.twoChannels],
        ]}
        onChoose={(count) => set({ channels: count === '2' ? 2 : 1 })}
      />
      <Count label={say.sounds.rate} value={settings.rateHz} field="rateHz" set={set} />
      <Count label={say.sounds.leftOut} value={settings.skip} field="skip" set={set} />
    </form>
  );
}

const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="grid grid-cols-[110px_1fr] items-center gap-2">
    {label}
    {children}
  </label>
);

interface ChoiceProps {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  isOff?: boolean;
  onChoose: (value: string) => void;
}

function Choice({ label, value, options, isOff = false, onChoose }: ChoiceProps) {
  return (
    <Labelled label={label}>
      <select
        value={value}
        disabled={isOff}
        onChange={({ target }) => onChoose(target.value)}
        className={`${FIELD} disabled:opacity-45`}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

interface CountProps {
  label: string;
  value: number;
  field: 'rateHz' | 'skip';
  set: (change: Partial<RawSettings>) => void;
}

/** What can be no setting is left as typed until it can, and nothing changes. */
function Count({ label, value, field, set }: CountProps) {
  const take = (text: string) => {
    const read = RawSettings.shape[field].safeParse(Number(text));
    if (text !== '' && read.success) set({ [field]: read.data });
  };
  return (
    <Labelled label={label}>
      <input
        type="text"
        inputMode="numeric"
        defaultValue={value}
        onChange={({ target }) => take(target.value)}
        className={FIELD}
      />
    </Labelled>
  );
}
