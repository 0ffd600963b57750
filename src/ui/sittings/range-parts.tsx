/** What both rulers of how far to read have: landmarks, and the button that begins. */
import type { ScaleLinear } from 'd3';
import type { ReactNode } from 'react';
import type { Said } from '@/core/said';
import { say } from '@/messages';
import { tell } from '@/messages/tell';
import { Button } from '../parts/button';
import { ChoiceButton } from '../parts/choice-button';

interface Landmark {
  name: Said;
  to: number;
}

/** Landmarks may lie close together: ticks stand at their places, their names in a row. */
export function LandmarkTicks({
  landmarks,
  x,
}: {
  landmarks: readonly Landmark[];
  x: ScaleLinear<number, number>;
}) {
  return (
    <div className="relative h-2" aria-hidden>
      {landmarks.map(({ name, to }) => (
        <span
          key={tell(name)}
          style={{ left: `${x(to)}%` }}
          className="absolute h-2 w-px bg-ink-2"
        />
      ))}
    </div>
  );
}

interface LandmarkButtonsProps {
  landmarks: readonly Landmark[];
  /** Where the range ends now. */
  to: number;
  onChoose: (to: number) => void;
  /** A landmark as its button says it. */
  nameOf: (name: string, to: number) => ReactNode;
}

export function LandmarkButtons({ landmarks, to: chosen, onChoose, nameOf }: LandmarkButtonsProps) {
  return (
    <div className="flex flex-wrap justify-end gap-2 text-[13px]">
      {landmarks.map(({ name, to }) => (
        <ChoiceButton key={tell(name)} isChosen={chosen === to} onChoose={() => onChoose(to)}>
          {nameOf(tell(name), to)}
        </ChoiceButton>
      ))}
    </div>
  );
}

interface RangeFootProps {
  station: { id: number; model: string; serial: string };
  isOff: boolean;
  onGo: () => void;
}

export function RangeFoot({ station, isOff, onGo }: RangeFootProps) {
  return (
    <div className="mt-2 flex items-center gap-3">
      <Button tone="primary" hotkey="Enter" disabled={isOff} onClick={onGo}>
        {say.sittings.readThisMuchAt({ id: station.id })}
      </Button>
      <span className="text-[13px] text-ink-2">
        {say.sittings.whatWasLookedAt({ model: station.model, serial: station.serial })}
      </span>
    </div>
  );
}
