'use client';
/**
 * At a simulated bench: which disk of its shelf stands for a medium that has none of its own name.
 */
import { useQuery } from '@tanstack/react-query';
import { shelfQuery } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { say } from '@/messages';

interface ShelfDialogProps {
  medium: { code: string } | null;
  onClose: () => void;
  onChoose: (label: string) => void;
}

export function ShelfDialog({ medium, onClose, onChoose }: ShelfDialogProps) {
  const { data: shelf = [] } = useQuery({ ...shelfQuery, enabled: medium !== null });
  const free = shelf.filter(({ inDrive }) => inDrive === null);
  return (
    <Dialog
      open={medium !== null}
      onOpenChange={(open) => !open && onClose()}
      title={say.media.whichDiskIs({ code: medium?.code ?? '' })}
      about={say.media.theSimulatedBenchHas}
    >
      <ul className="space-y-1.5">
        {free.map(({ label, describes, blank }) => (
          <li key={label}>
            <Button className="w-full justify-between" onClick={() => onChoose(label)}>
              <span className="font-mono">{label}</span> · {describes}
              {blank ? say.media.blank : ''}
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
