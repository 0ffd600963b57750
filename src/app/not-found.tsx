import Link from 'next/link';
import { say } from '@/messages';

export default function NotFound() {
  return (
    <div className="max-w-[60ch] pt-10">
      <h1>{say.titles.thereIsNothingBy}</h1>
      <p className="mt-2 text-[15px]">
        {say.titles.itMayBeRegistered}{' '}
        <Link className="font-[650] text-oxide underline" href="/holdings">
          {say.titles.holdings}
        </Link>{' '}
        {say.titles.or}{' '}
        <Link className="font-[650] text-oxide underline" href="/arrivals">
          {say.titles.arrivals}
        </Link>
        .
      </p>
    </div>
  );
}
