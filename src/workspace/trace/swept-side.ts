import { setOutline } from '@/core/actions/actions';
import { otherSide } from '@/core/model/choices';
import { poseAtFrame } from '@/core/document/document';
import {
  isBetter,
  sideByMovement,
  sideByPerson,
  sideByPoses,
  type SideJudgement,
} from '@/core/edge/swept-side';
import { checksBegun } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { setView, useView } from '../view/view-store';
import { carrierBegun } from './carry-store';
import { edit } from '../session/edit';

/** Takes a judgement of the swept side where it is better than the one that stands. */
function take(outlineId: string, judged: SideJudgement) {
  const { sideNote } = useView.getState();
  const { document } = useDocument.getState();
  const outline = document?.outlines[outlineId];
  if (!outline || sideNote?.outlineId !== outlineId || !isBetter(judged, sideNote.judged)) return;
  if (outline.sweptSide !== judged.swept)
    edit(`Swept side of ${outline.name}`, setOutline(document, outlineId, { sweptSide: judged.swept }));
  setView({ sideNote: { outlineId, judged } });
}

/** Looks at the pictures about a seam just drawn for the side that the edge leaves behind. */
export async function judgeByMovement(outlineId: string, shotId: string, source: number) {
  const document = useDocument.getState().document;
  const coordinates = document && poseAtFrame(document, outlineId, source)?.coordinates;
  const checks = coordinates && (await checksBegun());
  if (!checks || !coordinates) return;
  const read = await checks.movingSide(shotId, source, coordinates).catch(() => null);
  if (read) take(outlineId, sideByMovement(coordinates, read));
  if (read?.sure || useView.getState().sideNote?.judged.sure) return;
  // Movement alone is a guess: a person may be there.
  const carrier = await carrierBegun();
  const found = await carrier?.personAt(shotId, { frame: source, coordinates }).catch(() => null);
  const judged = found && sideByPerson(coordinates, { side: found.side, trailing: found.person.trailing });
  if (judged) take(outlineId, judged);
}

/** Looks at the course of an outline's poses while its side is still a guess. */
export function judgeByPoses() {
  const { sideNote } = useView.getState();
  const { document } = useDocument.getState();
  if (!sideNote || sideNote.judged.sure || !document) return;
  const judged = sideByPoses(document.poses[sideNote.outlineId] ?? []);
  if (judged) take(sideNote.outlineId, judged);
}

/** A person has said which side is swept. */
export function chooseSide(outlineId: string, flipped: boolean) {
  const { document } = useDocument.getState();
  const outline = document?.outlines[outlineId];
  setView({ sideNote: null });
  if (!outline || !flipped) return;
  edit(
    `Flip the swept side of ${outline.name}`,
    setOutline(document, outlineId, { sweptSide: otherSide(outline.sweptSide) }),
  );
}
