/** A table under its title, as pages with several of them have it. */
import type { ReactNode } from 'react';

interface TableWithHeadsProps {
  title: string;
  heads: readonly string[];
  testId?: string;
  /** Its rows. */
  children: ReactNode;
}

export function TableWithHeads({ title, heads, testId, children }: TableWithHeadsProps) {
  return (
    <section className="mb-7">
      <h2 className="mb-2 text-[20px]">{title}</h2>
      <table className="w-full border-collapse text-[14px]" data-testid={testId}>
        <thead>
          <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
            {heads.map((head) => (
              <th key={head}>{head}</th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </section>
  );
}
