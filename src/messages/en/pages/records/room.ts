/** What the page of what is kept says of the room that it takes. */
export const room = {
  title: 'Room',
  kept: 'Kept',
  free: 'Free on its disk',
  keptFree: 'Kept free',
  grows: 'Grew, in the last 90 days',
  aMonth: ({ bytes }: { bytes: string }) => `${bytes} a month`,
  lasts: 'At that rate it lasts',
  months: ({ monthsLeft }: { monthsLeft: number }) => {
    if (monthsLeft < 1) return 'less than a month';
    if (monthsLeft >= 120) return 'more than ten years';
    const months = Math.floor(monthsLeft);
    return months === 1 ? 'one month' : `${months} months`;
  },
  notKnown: 'not known',
  byMonth: 'Stored, by month',
  byLot: 'By lot, the largest first',
  noLot: 'of no lot',
  moreLots: ({ moreLots }: { moreLots: number }) => `and ${moreLots} more`,
};
