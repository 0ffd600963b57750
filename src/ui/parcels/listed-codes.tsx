/** Media by their codes, each leading to its docket, and how many more there are. */
import Link from 'next/link';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

interface ListedCodesProps {
  codes: readonly string[];
  /** All of them. */
  media: number;
}

export function ListedCodes({ codes, media }: ListedCodesProps) {
  const more = media - codes.length;
  return (
    <>
      {codes.map((code) => (
        <Link key={code} href={docketPage(code)} className="mr-2 font-mono underline">
          {code}
        </Link>
      ))}
      {more > 0 && <span className="mr-2">{say.parcels.andMore({ more })}</span>}
    </>
  );
}
