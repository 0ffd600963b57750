'use client';
/** In place of a page whose answers the database did not give: it comes by itself once it does. */
import { useRouter } from 'next/navigation';
import { useEffect, useTransition } from 'react';
import { say } from '@/messages';

const AGAIN_MS = 3000;

export function StoreAway() {
  const router = useRouter();
  const [isAsking, ask] = useTransition();
  useEffect(() => {
    // One at a time: a database that hangs takes its time to say nothing.
    if (isAsking) return;
    const timer = setTimeout(() => ask(() => router.refresh()), AGAIN_MS);
    return () => clearTimeout(timer);
  }, [router, isAsking]);
  return (
    <div data-testid="store-away" className="max-w-[60ch] pt-10">
      <h1>{say.frame.thisPageWaits}</h1>
      <p className="mt-2 text-[15px]">{say.frame.itComesByItself}</p>
    </div>
  );
}
