'use client';

import { layersInOrder } from '@/core/document/document';
import { changeRate, changeSize, proposedSize } from '@/core/actions/format-actions';
import { formatRate, nominalRateOf, rateOf } from '@/core/time/rate';
import { FormatChoice } from '@/interface/FormatChoice';
import { useDocument } from '../document/document-store';
import { setView, useView } from '../view/view-store';
import { edit } from '../session/edit';

/** The crossing's frame rate and size; everything in it stays at its moment and in its place. */
export function FormatOfCrossing() {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const { crossing } = document;
  const ofShots = layersInOrder(document).flatMap(({ shotId, role }) => {
    const shot = shots.find((media) => media.shot.id === shotId)?.shot;
    return shot ? [{ shot, by: `the ${role} shot` }] : [];
  });
  const rate = rateOf(crossing);
  return (
    <FormatChoice
      rate={rate}
      size={crossing}
      rates={ofShots.map(({ shot, by }) => ({ value: nominalRateOf(shot), by }))}
      sizes={ofShots.map(({ shot, by }) => ({ value: proposedSize(shot), by }))}
      onRate={(next) => {
        const { frame } = useView.getState();
        // The moment on screen stays on screen.
        if (edit(`Change the frame rate to ${formatRate(next)} fps`, changeRate(document, next)))
          setView({ frame: Math.round((frame * next.num * rate.den) / (next.den * rate.num)) });
      }}
      onSize={({ width, height }) =>
        edit(`Change the size to ${width} × ${height} px`, changeSize(document, { width, height }))
      }
    />
  );
}
