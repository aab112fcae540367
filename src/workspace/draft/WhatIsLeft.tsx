'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { unsureStretches } from '@/core/actions/carry-actions';
import { framesPhrase } from '@/core/checks/findings';
import { FindingIcon, OpenMarkIcon, TickIcon } from '@/interface/icons';
import { useChecks } from '../check/checks-store';
import { goToFinding } from '../check/go-to-finding';
import { useDocument } from '../document/document-store';
import { goTo } from '../session/go-to';
import { crossingFrameIn, useTraced } from '../session/traced';
import { doubtSays } from '../trace/carry-store';
import { showView } from '../view/show';
import { setView } from '../view/view-store';

/** Lines that are shown; the rest is counted. */
const mostLines = 12;

interface Left {
  key: string;
  says: string;
  fault: boolean;
  go(): void;
}

/** What is still to be put right: unsure frames, the worst first, and what the checks have found. */
export function WhatIsLeft() {
  const traced = useTraced();
  const decided = useDocument((state) => Object.keys(state.document!.decisions).length > 0);
  const { findings, share } = useChecks();
  if (!traced || !decided || traced.outlines.length === 0) return null;
  const unsure = traced.outlines
    .flatMap((outline) =>
      unsureStretches(traced.document.poses[outline.id] ?? []).map((each) => ({ outline, ...each })),
    )
    .sort((a, b) => b.worst.doubt - a.worst.doubt)
    .map(({ outline, from, to, worst }): Left => {
      const frame = crossingFrameIn(traced, worst.frame);
      // Reversed, a shot shows its later frames first.
      const ends = [from, to].map((source) => crossingFrameIn(traced, source));
      const all = { from: Math.min(...ends), to: Math.max(...ends) };
      return {
        ...{ key: worst.id, fault: false },
        says: `${framesPhrase(all)}, not sure${from < to ? `, least on ${frame}` : ''}: ${doubtSays[worst.unsure!]}.`,
        go: () => goToPose(frame, outline.id),
      };
    });
  const found = findings.map((finding): Left => ({
    ...{ key: `${finding.kind} ${finding.outlineId ?? finding.pieceId} ${finding.from}`, fault: true },
    says: finding.says,
    go: () => goToFinding(finding),
  }));
  const looked = share === 1;
  // What was found before the last change may be mended by it.
  const left = [...(looked ? found : []), ...unsure];
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.5 }}>
      <Box component="h3" sx={{ m: 0, fontSize: 14 }}>
        What is left{left.length > 0 ? ` (${left.length})` : ''}
      </Box>
      {!looked && <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>Checking every frame…</Box>}
      {looked && left.length === 0 && (
        <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 13 }}>
          <TickIcon size={16} />
          Nothing. Watch it once at full size.
        </Box>
      )}
      <Box component="ol" aria-label="What is left" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {left.slice(0, mostLines).map((line) => (
          <Box component="li" key={line.key} sx={{ borderTop: 1, borderColor: 'divider' }}>
            <ButtonBase
              onClick={line.go}
              sx={{
                ...{ width: '100%', display: 'grid', gridTemplateColumns: '20px minmax(0, 1fr)', gap: 0.5 },
                ...{ py: 0.75, textAlign: 'left', fontFamily: 'inherit', fontSize: 12.5, lineHeight: 1.35 },
                ...{ alignItems: 'start', '&:hover': { bgcolor: 'action.hover' } },
              }}
            >
              {line.fault ? <FindingIcon size={16} /> : <OpenMarkIcon size={16} />}
              {line.says}
            </ButtonBase>
          </Box>
        ))}
      </Box>
      {left.length > mostLines && (
        <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
          and {left.length - mostLines} more; Check and Trace list them all.
        </Box>
      )}
    </Box>
  );
}

function goToPose(frame: number, outlineId: string) {
  setView({ playing: false, outlineId, points: new Set() });
  goTo(frame);
  showView('plain');
}
