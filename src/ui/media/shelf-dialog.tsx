'use client';
/**
 * At a simulated bench: which disk of its shelf stands for a medium that has none of its own name.
 */
import { useQuery } from '@tanstack/react-query';
import { shelfQuery } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';

export function ShelfDialog({
  medium,
  onClose,
  onChoose,
}: {
  medium: { code: string } | null;
  onClose: () => void;
  onChoose: (label: string) => void;
}) {
  const { data: shelf = [] } = useQuery({ ...shelfQuery, enabled: medium !== null });
  const free = shelf.filter(({ inDrive }) => inDrive === null);
  return (
    <Dialog
      open={medium !== null}
      onOpenChange={(open) => !open && onClose()}
      title={`Which disk is ${medium?.code ?? ''}?`}
      about="The simulated bench has no disk of that name on its shelf. Choose the one that its hand shall put in."
    >
      <ul className="space-y-1.5">
        {free.map(({ label, describes, blank }) => (
          <li key={label}>
            <Button className="w-full justify-between" onClick={() => onChoose(label)}>
              <span className="font-mono">{label}</span> · {describes}
              {blank ? ' (blank)' : ''}
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
