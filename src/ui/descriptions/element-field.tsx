/** One element of a description in its form: its values, and what counts where it says none. */
import type { UseFormRegisterReturn } from 'react-hook-form';
import { DCMI_TYPES } from '@/core/description/dcmi-types';
import type { ElementName } from '@/core/description/elements';
import { say } from '@/messages';
import type { DocketData } from '../data/queries';
import { field as look } from '../parts/field-look';
import { isProse } from './typed-description';

interface ElementFieldProps {
  element: ElementName;
  /** What counts for it now, of its own or not. */
  said: DocketData['description']['elements'][number] | undefined;
  input: UseFormRegisterReturn;
  error: string | undefined;
}

export function ElementField({ element, said, input, error }: ElementFieldProps) {
  const id = `${input.name}-said`;
  return (
    <label className={`text-[13px] text-ink-2 ${isProse(element) ? 'col-span-2' : ''}`}>
      <span className="inline-block first-letter:uppercase">
        {say.descriptions.elements[element]}
      </span>
      <textarea
        {...input}
        rows={isProse(element) ? 3 : 1}
        aria-invalid={Boolean(error)}
        aria-describedby={id}
        placeholder={said?.values.join(' · ')}
        className={`${look} field-sizing-content min-h-9`}
      />
      <span id={id} className="text-[12px]">
        {error ? (
          <span role="alert" className="font-[650] text-oxide">
            {error}
          </span>
        ) : (
          element === 'type' && DCMI_TYPES.join(', ')
        )}
      </span>
    </label>
  );
}
