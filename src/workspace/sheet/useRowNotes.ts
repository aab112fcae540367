import { useMemo } from 'react';
import { layerTitle } from '@/core/document/document';
import { firstShowing } from '@/core/time/frame-table';
import { useDocument } from '../document/document-store';
import type { CrossingDocument } from '@/core/document/tables';
import { useChecks } from '../check/checks-store';
import { channelWords } from '../move/channel-words';

type Notes = Readonly<Record<number, string>>;

/** What is to be said of frames, by frame: marks, keys of moves, findings. */
export function useRowNotes(document: CrossingDocument): Record<'marks' | 'moved' | 'found', Notes> {
  const { marks, moves, layers, crossing } = document;
  const findings = useChecks((state) => state.findings);
  const shots = useDocument((state) => state.shots);
  return {
    marks: useMemo(() => {
      const names: Record<number, string> = {};
      for (const { frame, name } of Object.values(marks))
        names[frame] = names[frame] ? `${names[frame]}, ${name}` : name;
      // Where a shot's footage goes over to another take.
      for (const layer of Object.values(layers)) {
        const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
        if (!shot || !layer.visible) continue;
        for (const cut of shot.motion?.cuts ?? []) {
          const frame = firstShowing(layer, crossing, shot, cut);
          const name = `Cut in ${layerTitle(layer, shot)}`;
          names[frame] = names[frame] ? `${names[frame]}, ${name}` : name;
        }
      }
      return names;
    }, [marks, layers, shots, crossing]),
    moved: useMemo(() => {
      const named: Record<number, string> = {};
      for (const { frame, channel } of Object.values(moves)) {
        const { name } = channelWords[channel];
        const before = named[frame];
        if (!before?.includes(name)) named[frame] = before ? `${before}, ${name}` : `Key of a move: ${name}`;
      }
      return named;
    }, [moves]),
    found: useMemo(() => {
      const says: Record<number, string> = {};
      for (const finding of findings)
        for (let at = finding.from; at <= finding.to; at++)
          says[at] = says[at] ? `${says[at]} ${finding.says}` : finding.says;
      return says;
    }, [findings]),
  };
}
