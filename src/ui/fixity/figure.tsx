/** One figure of a store, under what it is of. */
interface FigureProps {
  name: string;
  figure: string;
  /** What is not as it should be. */
  isWrong?: boolean;
}

export function Figure({ name, figure, isWrong = false }: FigureProps) {
  return (
    <div className={isWrong ? 'bg-oxide-wash px-2' : ''}>
      <dt className="text-[13px] text-ink-2">{name}</dt>
      <dd className="text-[17px] font-[650]" suppressHydrationWarning>
        {figure}
      </dd>
    </div>
  );
}

interface FigureRowProps {
  rows: readonly (readonly [name: string, figure: string])[];
}

/** Five of them beside one another. */
export const FigureRow = ({ rows }: FigureRowProps) => (
  <dl className="mb-4 grid grid-cols-5 gap-4 border-y border-line py-3">
    {rows.map(([name, figure]) => (
      <Figure key={name} name={name} figure={figure} />
    ))}
  </dl>
);
