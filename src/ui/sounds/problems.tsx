/** What is odd of a sound, a program or a volume of them. */
export function Problems({ problems }: { problems: readonly { message: string }[] }) {
  if (problems.length === 0) return null;
  return (
    <ul className="my-2 text-[13px]">
      {problems.map(({ message }) => (
        <li key={message} className="border-l-4 border-ochre pl-2">
          {message}
        </li>
      ))}
    </ul>
  );
}
