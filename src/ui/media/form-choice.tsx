/** What a medium is as a thing, chosen in a form. */
import type { UseFormRegisterReturn } from 'react-hook-form';
import { MEDIUM_FORMS, isFloppy } from '@/core/medium-form';
import { say } from '@/messages';
import { FORM_NAMES } from '@/messages/names';
import { field } from '../parts/field-look';

export function FormChoice({ input }: { input: UseFormRegisterReturn }) {
  return (
    <label className="text-[13px] text-ink-2">
      {say.media.form}
      <select {...input} className={field}>
        {MEDIUM_FORMS.map((form) => (
          <option key={form} value={form}>
            {FORM_NAMES[form]}
            {isFloppy(form) ? say.media.floppy : ''}
          </option>
        ))}
      </select>
    </label>
  );
}
