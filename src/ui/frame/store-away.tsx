'use client';
/** In place of a page whose answers the database did not give: it comes by itself once it does. */
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { say } from '@/messages';

const AGAIN_MS = 3000;

export function StoreAway() {
  const router = useRouter();
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), AGAIN_MS);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <div data-testid="store-away" className="max-w-[60ch] pt-10">
      <h1>{say.frame.thisPageWaits}</h1>
      <p className="mt-2 text-[15px]">{say.frame.itComesByItself}</p>
    </div>
  );
}
