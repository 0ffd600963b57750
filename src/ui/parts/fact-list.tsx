/** What is known of something, a line each. */
export function FactList({
  facts,
}: {
  facts: readonly (readonly [name: string, value: string])[];
}) {
  return (
    <dl className="grid grid-cols-[132px_1fr] gap-y-0.5 text-[13px]">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-2">{name}</dt>
          <dd className="font-mono text-[12px] leading-[18px]">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
