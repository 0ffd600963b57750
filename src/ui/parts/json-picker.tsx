'use client';
/** Chooses one file of JSON; the same file can be chosen again. */
import type { RefObject } from 'react';

interface JsonPickerProps {
  picker: RefObject<HTMLInputElement | null>;
  testId: string;
  onFile: (file: File) => void;
}

export function JsonPicker({ picker, testId, onFile }: JsonPickerProps) {
  return (
    <input
      ref={picker}
      type="file"
      accept=".json,application/json"
      hidden
      data-testid={testId}
      onChange={(event) => {
        const [file] = event.target.files ?? [];
        event.target.value = '';
        if (file) onFile(file);
      }}
    />
  );
}
