/** A field of words in a form: its label, and what is wrong with it. */
import type { UseFormRegisterReturn } from 'react-hook-form';
import { field } from '../field-look';

interface TextFieldProps {
  label: string;
  error: string | undefined;
  input: UseFormRegisterReturn;
  wide?: boolean;
  type?: 'text' | 'number' | 'date';
}

export function TextField({ label, error, input, wide = false, type = 'text' }: TextFieldProps) {
  return (
    <label className={`text-[13px] text-ink-2 ${wide ? 'col-span-2' : ''}`}>
      {label}
      <input
        {...input}
        type={type}
        autoComplete="off"
        aria-invalid={Boolean(error)}
        aria-describedby={error ? `${input.name}-error` : undefined}
        className={field}
      />
      {error && (
        <span id={`${input.name}-error`} role="alert" className="font-[650] text-oxide">
          {error}
        </span>
      )}
    </label>
  );
}
