import Link from 'next/link';

export default function NotFound() {
  return (
    <div className="max-w-[60ch] pt-10">
      <h1>There is nothing by that name here</h1>
      <p className="mt-2 text-[15px]">
        It may be registered under another code. Look for it in{' '}
        <Link className="font-[650] text-oxide underline" href="/holdings">
          Holdings
        </Link>{' '}
        or{' '}
        <Link className="font-[650] text-oxide underline" href="/arrivals">
          Arrivals
        </Link>
        .
      </p>
    </div>
  );
}
