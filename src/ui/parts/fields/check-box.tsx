/** A box to be ticked in a form, with what it says and what that means. */
import type { UseFormRegisterReturn } from 'react-hook-form';

interface CheckBoxProps {
  input: UseFormRegisterReturn;
  label: string;
  help?: string;
}

export function CheckBox({ input, label, help }: CheckBoxProps) {
  return (
    <label className="col-span-2 flex items-center gap-2 text-[14px]">
      <input type="checkbox" {...input} className="size-4" />
      {label}
      {help && <span className="text-[12px] text-ink-2">{help}</span>}
    </label>
  );
}
