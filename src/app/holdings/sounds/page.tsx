import { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';
import { heldSoundsQuery } from '@/ui/data/queries';
import { HeldSoundsView } from '@/ui/sounds/held/held-sounds-view';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function HeldSounds() {
  const fetch = (db: Parameters<typeof heldSounds>[0]) => heldSounds(db, SoundsQuestion.parse({}));
  return (
    <PrefetchBoundary answers={[{ key: heldSoundsQuery({}).queryKey, fetch }]}>
      <HeldSoundsView />
    </PrefetchBoundary>
  );
}
