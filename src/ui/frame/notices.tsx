'use client';
/**
 * What is wrong with the house itself, above every page for as long as it is: nothing answers, or
 * the disk fills up. Read aloud once, and gone by itself.
 */
import { useQuery } from '@tanstack/react-query';
import { useOutage } from '../data/live';
import { storeQuery } from '../data/queries';
import { say } from '@/messages';

function useNotice(): string | null {
  const outage = useOutage();
  const { data } = useQuery(storeQuery);
  if (outage === 'application') return say.frame.nothingAnswers;
  if (outage === 'store') return say.frame.theStoreIsAway;
  if (data?.free === null || !data?.isLow) return null;
  const { free, reserve } = data;
  return free < reserve
    ? say.frame.theDiskIsFull({ free })
    : say.frame.theDiskFills({ free, reserve });
}

export function Notices() {
  const notice = useNotice();
  return (
    <div
      role="status"
      data-testid="notice"
      className={
        notice ? 'shrink-0 bg-oxide px-[22px] py-2.5 font-[650] text-oxide-ink' : 'sr-only'
      }
    >
      {notice}
    </div>
  );
}
