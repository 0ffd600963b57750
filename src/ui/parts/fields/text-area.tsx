/** A field of lines in a form: its label, what helps to fill it, and what is wrong with it. */
import type { ReactNode } from 'react';
import type { UseFormRegisterReturn } from 'react-hook-form';
import { field } from '../field-look';

interface TextAreaProps {
  label: string;
  error: string | undefined;
  input: UseFormRegisterReturn;
  rows: number;
  /** Stands where the error would. */
  help?: ReactNode;
  placeholder?: string | undefined;
  className?: string;
}

export function TextArea({
  label,
  error,
  input,
  rows,
  help = null,
  placeholder,
  className = '',
}: TextAreaProps) {
  const id = `${input.name}-help`;
  return (
    <label className={`text-[13px] text-ink-2 ${className}`}>
      <span className="inline-block first-letter:uppercase">{label}</span>
      <textarea
        {...input}
        rows={rows}
        aria-invalid={Boolean(error)}
        aria-describedby={id}
        placeholder={placeholder}
        className={`${field} field-sizing-content min-h-9`}
      />
      <span id={id} className="text-[12px]">
        {error ? (
          <span role="alert" className="font-[650] text-oxide">
            {error}
          </span>
        ) : (
          help
        )}
      </span>
    </label>
  );
}
