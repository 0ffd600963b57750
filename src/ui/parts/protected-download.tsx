'use client';
/**
 * A download under a passphrase: asked for twice, sent with a form so that the file need not fit
 * the page's memory.
 */
import { Dispatch, SetStateAction, useId, useState } from 'react';
import { Button } from './button';
import { Dialog } from './dialog';
import { field } from './field-look';
import { ErrorAlert } from './page';
import { say } from '@/messages';

const LEAST = 8;

/** What was answered in place of a download, which would have been saved and not shown. */
function refusalIn({ contentDocument }: HTMLIFrameElement): string | null {
  const text = contentDocument?.body?.textContent ?? '';
  try {
    return (JSON.parse(text) as { error?: string }).error ?? null;
  } catch {
    return null;
  }
}

/** Where the answer goes: it is shown nowhere, and told where it is a refusal. */
function AnswerFrame({ name, onRefused }: { name: string; onRefused: (why: string) => void }) {
  const look = (answer: HTMLIFrameElement) => {
    const refusal = refusalIn(answer);
    if (refusal !== null) onRefused(refusal);
  };
  return (
    <iframe
      name={name}
      title={say.parts.download}
      onLoad={({ currentTarget }) => look(currentTarget)}
      hidden
    />
  );
}

export function ProtectedDownload({ href, name }: { href: string; name: string }) {
  const [open, setOpen] = useState(false);
  const [first, setFirst] = useState('');
  const [second, setSecond] = useState('');
  const [refusal, setRefusal] = useState<string | null>(null);
  const frame = useId();
  const trouble =
    first.length > 0 && first.length < LEAST
      ? say.parts.atLeastCharacters({ least: LEAST })
      : second.length > 0 && first !== second
        ? say.parts.theTwoAreNot
        : null;
  const ready = first.length >= LEAST && first === second;
  const refuse = (why: string) => {
    setRefusal(why);
    setOpen(true);
  };
  const close = () => {
    setOpen(false);
    setRefusal(null);
    setFirst('');
    setSecond('');
  };
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="ml-3 text-oxide hover:underline"
      >
        {say.parts.underAPassphrase}
      </button>
      <AnswerFrame name={frame} onRefused={refuse} />
      <Dialog
        open={open}
        onOpenChange={(to) => (to ? setOpen(true) : close())}
        title={say.parts.underAPassphrase2({ name })}
        about={say.parts.inTheAgeFormat}
      >
        <ErrorAlert>{refusal}</ErrorAlert>
        <PassphraseForm
          href={href}
          frame={frame}
          ready={ready}
          close={close}
          first={first}
          setFirst={setFirst}
          field={field}
          second={second}
          setSecond={setSecond}
          trouble={trouble}
        />
      </Dialog>
    </>
  );
}

interface PassphraseFormProps {
  href: string;
  frame: string;
  ready: boolean;
  close: () => void;
  first: string;
  setFirst: Dispatch<SetStateAction<string>>;
  field: string;
  second: string;
  setSecond: Dispatch<SetStateAction<string>>;
  trouble: string | null;
}

function PassphraseForm({
  href,
  frame,
  ready,
  close,
  first,
  setFirst,
  field,
  second,
  setSecond,
  trouble,
}: PassphraseFormProps) {
  return (
    <form
      method="post"
      action={href}
      target={frame}
      onSubmit={(event) => {
        if (!ready) event.preventDefault();
        else setTimeout(close, 0);
      }}
      className="space-y-3"
    >
      <FirstTyped first={first} setFirst={setFirst} field={field} />
      <SecondTyped second={second} setSecond={setSecond} field={field} />
      <p role="alert" className="h-5 text-[13px] font-[650] text-oxide">
        {trouble}
      </p>
      <div className="flex justify-end gap-3">
        <Button onClick={close}>{say.parts.leaveIt}</Button>
        <button
          type="submit"
          disabled={!ready}
          className={
            'min-h-9 rounded-sm border border-oxide bg-oxide px-3 text-[13px] font-[650] ' +
            'text-oxide-ink disabled:opacity-45'
          }
        >
          {say.parts.downloadItProtected}
        </button>
      </div>
    </form>
  );
}

function FirstTyped({
  first,
  setFirst,
  field,
}: {
  first: string;
  setFirst: PassphraseFormProps['setFirst'];
  field: string;
}) {
  return (
    <label className="block text-[13px] text-ink-2">
      {say.parts.passphrase}
      <input
        name="passphrase"
        type="password"
        autoComplete="new-password"
        value={first}
        onChange={({ target }) => setFirst(target.value)}
        className={field}
      />
    </label>
  );
}

function SecondTyped({
  second,
  setSecond,
  field,
}: {
  second: string;
  setSecond: PassphraseFormProps['setSecond'];
  field: string;
}) {
  return (
    <label className="block text-[13px] text-ink-2">
      {say.parts.onceMore}
      <input
        type="password"
        autoComplete="new-password"
        value={second}
        onChange={({ target }) => setSecond(target.value)}
        className={field}
      />
    </label>
  );
}
