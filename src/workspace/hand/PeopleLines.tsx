'use client';

import { Shape } from 'react-konva';
import { ink, strokeOutline, tracePath } from '../sight/paint';
import { becomesNow, foundOn, outlinesOf, usePeople } from '../trace/people';
import type { TracedOutline } from './useShownOutline';

/** Those who were found on the frame: all dashed, the one that is pointed at filled, with the line that they would become. */
export function PeopleLines({ shown: { traced, source, sight } }: { shown: TracedOutline }) {
  const { found, pointed, becomes } = usePeople();
  const people = foundOn(found, traced.layer.id, source);
  if (!people) return null;
  const as = becomesNow(traced, becomes);
  return (
    <Shape
      sceneFunc={(context) => {
        for (const [k, person] of people.entries()) {
          if (k === pointed) {
            context.save();
            context.setAttr('fillStyle', 'rgba(255,182,46,.28)');
            tracePath(context, person.loops[0].coordinates, true, sight);
            context.fill();
            context.restore();
          }
          for (const { coordinates } of person.loops)
            strokeOutline(context, coordinates, true, sight, {
              ink: ink.line,
              dash: [5, 5],
              alpha: k === pointed ? 1 : 0.8,
            });
          if (k !== pointed) continue;
          for (const { coordinates } of outlinesOf(person, as).loops)
            strokeOutline(context, coordinates, as === 'loop', sight, {
              ink: ink.chosen,
              dash: [],
              alpha: 1,
            });
        }
      }}
    />
  );
}
