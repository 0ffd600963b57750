'use client';
/** The buttons of a station's page, made from the table of what can be done there. */
import { useMutation } from '@tanstack/react-query';
import { post } from '../data/api';
import type { Station } from '../data/queries';
import { Button } from '../parts/button';
import { actionsAt } from './station-actions';

interface Asked {
  path: string;
  body: object;
}

/** Asks something of a station or of its sitting. */
export function useStationAct() {
  return useMutation({ mutationFn: ({ path, body }: Asked) => post(path, body) });
}
type StationAct = ReturnType<typeof useStationAct>;

export function StationButtons({ station, act }: { station: Station; act: StationAct }) {
  return actionsAt(station).map(({ keyOnPage, name, isPrimary, isOpen, path, body }) => (
    <Button
      key={`${keyOnPage} ${name}`}
      hotkey={keyOnPage}
      tone={isPrimary ? 'primary' : 'plain'}
      disabled={act.isPending || !isOpen}
      onClick={() => act.mutate({ path, body })}
    >
      {name}
    </Button>
  ));
}
