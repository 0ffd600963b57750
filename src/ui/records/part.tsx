/** A part of the page of a record, with its head. */
import type { ReactNode } from 'react';

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mb-7">
      <h2 className="mb-2 text-[20px]">{title}</h2>
      {children}
    </section>
  );
}
