'use client';
/** Any file may be a sound: a person hears whether it is. */
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { say } from '@/messages';

/** `file` is its row; the page that it is on is the medium's. */
export function AsSoundLink({ file }: { file: number }) {
  const medium = usePathname();
  return (
    <Link
      href={`${medium}/hearing?file=${file}`}
      className="mt-2 inline-block text-[13px] font-[650] text-oxide underline"
    >
      {say.copies.hearItAsSound}
    </Link>
  );
}
