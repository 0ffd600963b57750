'use client';
/** Files and folders chosen by hand, after it was said whose they are. */
import { useEffect, useRef, type RefObject } from 'react';
import { say } from '@/messages';
import { Button } from '../../parts/button';
import type { useTakingIn } from './use-taking-in';

interface PickersProps {
  isBusy: boolean;
  taking: Pick<ReturnType<typeof useTakingIn>, 'takeIn' | 'takeFolder' | 'askWhose'>;
}

/** Files and folders chosen by hand; the inputs themselves are never seen. */
export function Pickers({ isBusy, taking: { takeIn, takeFolder, askWhose } }: PickersProps) {
  const picker = useRef<HTMLInputElement>(null);
  const folderPicker = useRef<HTMLInputElement>(null);
  // React has no attribute for it.
  useEffect(() => folderPicker.current?.setAttribute('webkitdirectory', ''), []);
  return (
    <>
      <Button
        hotkey="f"
        disabled={isBusy}
        onClick={() => askWhose(() => folderPicker.current?.click())}
      >
        {say.holdings.takeInAFolder}
      </Button>
      <Button hotkey="t" onClick={() => askWhose(() => picker.current?.click())}>
        {say.holdings.takeInAFile}
      </Button>
      <FolderPicker folderPicker={folderPicker} takeFolder={takeFolder} />
      <FilePicker picker={picker} takeIn={takeIn} />
    </>
  );
}

function FolderPicker({
  folderPicker,
  takeFolder,
}: {
  folderPicker: RefObject<HTMLInputElement | null>;
  takeFolder: PickersProps['taking']['takeFolder'];
}) {
  return (
    <input
      ref={folderPicker}
      type="file"
      multiple
      hidden
      data-testid="intake-folder"
      onChange={({ target }) => {
        const chosen = [...(target.files ?? [])];
        void takeFolder(
          chosen.map((file) => ({ path: file.webkitRelativePath || file.name, file })),
        );
        target.value = '';
      }}
    />
  );
}

function FilePicker({
  picker,
  takeIn,
}: {
  picker: RefObject<HTMLInputElement | null>;
  takeIn: PickersProps['taking']['takeIn'];
}) {
  return (
    <input
      ref={picker}
      type="file"
      multiple
      hidden
      data-testid="intake"
      onChange={({ target }) => {
        void takeIn([...(target.files ?? [])]);
        target.value = '';
      }}
    />
  );
}
