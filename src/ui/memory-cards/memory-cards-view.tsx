'use client';
/**
 * Cards for devices that stand in for a drive: chosen by search, named as the device can show it,
 * and compared when they come back.
 */
import { keepPreviousData, useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { CARD_PROFILES, TEMPLATE_FIELDS } from '@/core/assembly/memory-card';
import { IMAGE_KINDS, ImageKind } from '@/core/image/kinds';
import { post, troubleOf } from '../data/api';
import { cardsQuery, holdingsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { EmptyState, PageHead, ErrorAlert, when } from '../parts/page';
import { ComeBack } from './come-back';
import { field } from '../parts/field-look';
import { say } from '@/messages';
import { CardImages, type Copy } from './card-images';

function NewCardForm() {
  const [typed, setTyped] = useState('');
  const [chosen, setChosen] = useState<readonly Copy[]>([]);
  const [about, setAbout] = useState({
    title: '',
    profile: CARD_PROFILES[0]!.id,
    kind: '',
    settingsName: '',
    template: '',
  });
  const asked = useDeferredValue(typed.trim());
  const { data } = useQuery({
    ...holdingsQuery({ q: asked }),
    enabled: asked !== '',
    placeholderData: keepPreviousData,
  });
  const make = useMutation({
    mutationFn: () =>
      post('/api/memory-cards', {
        ...about,
        kind: about.kind || null,
        copies: chosen.map(({ id }) => id),
      }),
    onSuccess: () => {
      setChosen([]);
      setAbout({ ...about, title: '' });
    },
  });
  const found =
    asked === ''
      ? []
      : (data?.copies ?? []).filter(({ id }) => !chosen.some((copy) => copy.id === id));
  const set = (change: Partial<typeof about>) => setAbout({ ...about, ...change });
  return (
    <section
      aria-label={say.memoryCards.makeACard}
      className="mb-6 grid grid-cols-2 gap-x-5 gap-y-3 border border-line bg-sheet px-4 py-3 text-[13px] text-ink-2"
    >
      <CardImages
        typed={typed}
        setTyped={setTyped}
        found={found}
        setChosen={setChosen}
        chosen={chosen}
      />
      <CardAbout about={about} set={set} make={make} chosen={chosen} />
    </section>
  );
}

interface CardAboutProps {
  about: { title: string; profile: string; kind: string; settingsName: string; template: string };
  set: (
    change: Partial<{
      title: string;
      profile: string;
      kind: string;
      settingsName: string;
      template: string;
    }>,
  ) => void;
  make: UseMutationResult<unknown, Error, void, unknown>;
  chosen: readonly Copy[];
}

function CardAbout({ about, set, make, chosen }: CardAboutProps) {
  return (
    <div className="grid content-start gap-2">
      <label>
        {say.memoryCards.whatTheCardIs}
        <input
          data-testid="card-title"
          value={about.title}
          onChange={(event) => set({ title: event.target.value })}
          maxLength={120}
          className={field}
        />
      </label>
      <div className="grid grid-cols-2 gap-2">
        <DeviceChoice about={about} set={set} />
        <CardKindChoice about={about} set={set} />
      </div>
      <SettingsName about={about} set={set} />
      <label>
        {say.memoryCards.itsTextALine}
        <SettingsText about={about} set={set} />
      </label>
      <p className="text-[12px]" translate="no">
        {TEMPLATE_FIELDS.map((name) => `{${name}}`).join(' ')}
      </p>
      <div className="flex items-center justify-end gap-3">
        <ErrorAlert>{troubleOf(make.error)}</ErrorAlert>
        <Button
          tone="primary"
          disabled={chosen.length === 0 || make.isPending}
          onClick={() => make.mutate()}
        >
          {say.memoryCards.makeTheCard}
        </Button>
      </div>
    </div>
  );
}

function DeviceChoice({
  about,
  set,
}: {
  about: CardAboutProps['about'];
  set: CardAboutProps['set'];
}) {
  return (
    <label>
      {say.memoryCards.theDevice}
      <select
        value={about.profile}
        onChange={(event) => set({ profile: event.target.value })}
        className={field}
      >
        {CARD_PROFILES.map(({ id, title }) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </select>
    </label>
  );
}

interface CardKindChoiceProps {
  about: CardAboutProps['about'];
  set: CardAboutProps['set'];
}

function CardKindChoice({ about, set }: CardKindChoiceProps) {
  return (
    <label>
      {say.memoryCards.imagesAs}
      <select
        value={about.kind}
        onChange={(event) => set({ kind: event.target.value })}
        className={field}
      >
        <option value="">{say.memoryCards.eachItsUsualKind}</option>
        {IMAGE_KINDS.map((kind) => (
          <option key={kind} value={kind}>
            .{kind}
          </option>
        ))}
      </select>
    </label>
  );
}

function SettingsName({
  about,
  set,
}: {
  about: CardAboutProps['about'];
  set: CardAboutProps['set'];
}) {
  return (
    <label>
      {say.memoryCards.settingsFileOfThe}
      <input
        value={about.settingsName}
        onChange={(event) => set({ settingsName: event.target.value })}
        placeholder={say.memoryCards.itsNameOnThe}
        className={`${field} font-mono`}
      />
    </label>
  );
}

function SettingsText({
  about,
  set,
}: {
  about: CardAboutProps['about'];
  set: CardAboutProps['set'];
}) {
  return (
    <textarea
      value={about.template}
      onChange={(event) => set({ template: event.target.value })}
      rows={4}
      spellCheck={false}
      placeholder={say.memoryCards.slotImageNumberImage}
      className={`${field} font-mono text-[13px]`}
    />
  );
}

export function MemoryCardsView() {
  const { data: rows = [] } = useQuery(cardsQuery);
  return (
    <>
      <PageHead
        over={say.memoryCards.imagesForMemoryCards}
        title={say.memoryCards.text({ rows: rows.length })}
      />
      <NewCardForm />
      {rows.length === 0 && <EmptyState>{say.memoryCards.searchForWhatIs}</EmptyState>}
      {rows.map(({ id, title, profile, images, who, madeAt }) => (
        <CardEntry
          key={id}
          id={id}
          profile={profile}
          who={who}
          madeAt={madeAt}
          title={title}
          images={images}
        />
      ))}
    </>
  );
}

interface CardEntryProps {
  id: number;
  profile: string;
  who: string;
  madeAt: string;
  title: string;
  images: {
    copyId: number;
    kind: ImageKind | null;
    sha256: string;
    code: string;
    title: string;
    bytes: number;
    number: number;
    path: string;
  }[];
}

function CardEntry({ id, profile, who, madeAt, title, images }: CardEntryProps) {
  return (
    <article
      data-testid={`card-${id}`}
      className="mb-3 border border-line bg-sheet px-4 py-3 text-[13px]"
    >
      <p className="text-ink-2" suppressHydrationWarning>
        {CARD_PROFILES.find((each) => each.id === profile)?.title} · {who}, {when(madeAt)}
      </p>
      <h2>
        {say.memoryCards.imagesBytes({
          title,
          images: images.length,
          reduce: grouped(images.reduce((sum, { bytes }) => sum + bytes, 0)),
        })}
      </h2>
      <p className="mt-1 flex gap-4">
        <a href={`/api/memory-cards/${id}/zip`} className="font-[650] text-oxide underline">
          {say.memoryCards.theCardAsA}
        </a>
        <ComeBack card={id} />
      </p>
      <details className="mt-1">
        <summary className="cursor-pointer">{say.memoryCards.whatIsOnIt}</summary>
        <table className="mt-1">
          <tbody>
            {images.map(({ number, path, code, title: own, bytes }) => (
              <tr key={path}>
                <td className="pr-3 text-right font-mono">{number}</td>
                <td className="pr-4 font-mono">{path}</td>
                <td className="pr-4 font-mono font-[650]">{code}</td>
                <td className="pr-4 text-right">{grouped(bytes)}</td>
                <td>{own}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </article>
  );
}
