'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { cutsByPicture } from '@/core/document/document';
import { useState } from 'react';
import { type Finding, fixLabels } from '@/core/checks/findings';
import { verdictOf } from '@/core/checks/verdict';
import { FindingIcon, OpenMarkIcon, TickIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { mend, useChecks } from './checks-store';
import { goToFinding } from './go-to-finding';
import { useDocument } from '../document/document-store';
import { useTraced } from '../session/traced';
import { setView } from '../view/view-store';

/** What the checks have found, with the way there and the way to mend it. */
export function CheckStep() {
  const { findings, share, failure, unjudged } = useChecks();
  const traced = useTraced();
  const { enqueueSnackbar } = useSnackbar();
  const [mending, setMending] = useState<Finding | null>(null);
  const document = useDocument((state) => state.document!);
  const looked = share === 1;
  const verdict = verdictOf(document, { found: findings.length, looked, tooBroken: unjudged });
  const several = (traced?.outlines.length ?? 0) > 1;
  const mendIt = (finding: Finding) => {
    setMending(finding);
    void mend(finding).then((refusal) => {
      setMending(null);
      if (refusal) enqueueSnackbar(refusal);
    });
  };
  const drawn = Object.keys(document.outlines).length > 0 || cutsByPicture(document);
  if (!drawn && !findings.some(({ kind }) => kind === 'footage is missing'))
    return (
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Box sx={{ color: 'text.secondary' }}>
          Nothing is drawn yet, so there is nothing to check. Once there is an outline, every frame is looked
          at while you work.
        </Box>
        <Button variant="outlined" onClick={() => setView({ step: 'Trace' })}>
          Go to Trace
        </Button>
      </Box>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13, minHeight: 24 }}>
        {!looked ? (
          <>
            <Box sx={{ whiteSpace: 'nowrap', color: 'text.secondary' }}>Checking every frame…</Box>
            <LinearProgress
              variant={share ? 'determinate' : 'indeterminate'}
              value={(share ?? 0) * 100}
              sx={{ flex: 1 }}
              aria-label="How much has been looked at"
            />
          </>
        ) : (
          <Box sx={{ color: 'text.secondary' }}>
            Every frame has been checked; Kiv goes on checking while you work.
          </Box>
        )}
      </Box>
      {failure && <Box sx={{ color: 'error.main' }}>{failure}</Box>}
      {looked &&
        verdict.unjudged.map((sentence) => (
          <Box
            key={sentence}
            sx={{ fontSize: 13, color: 'text.secondary', display: 'flex', gap: 0.75, alignItems: 'start' }}
          >
            <Box sx={{ flex: 'none', pt: '1px' }}>
              <OpenMarkIcon size={15} />
            </Box>
            {sentence}
          </Box>
        ))}
      {looked && findings.length === 0 && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          {verdict.holds && <TickIcon size={18} />}
          {verdict.holds
            ? 'Everything was judged and holds. Watch it once at full size.'
            : 'Nothing was found in what could be judged. Look at the rest by eye.'}
        </Box>
      )}
      <Box
        component="ol"
        sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}
        aria-label="Findings"
      >
        {findings.map((finding) => (
          <FindingItem
            key={`${finding.kind} ${finding.outlineId ?? finding.pieceId} ${finding.from}`}
            finding={finding}
            outlineName={several ? (document.outlines[finding.outlineId ?? '']?.name ?? null) : null}
            busy={mending !== null}
            onGo={() => goToFinding(finding)}
            onMend={() => mendIt(finding)}
          />
        ))}
      </Box>
      <Button variant="outlined" onClick={() => setView({ strips: true })}>
        Contact sheet of the edge
      </Button>
    </Box>
  );
}

function FindingItem({
  finding,
  outlineName,
  busy,
  onGo,
  onMend,
}: {
  finding: Finding;
  /** Where there are several outlines. */
  outlineName: string | null;
  /** Whether something is being mended. */
  busy: boolean;
  onGo(): void;
  onMend(): void;
}) {
  return (
    <Box component="li" sx={{ borderLeft: 3, borderColor: 'warning.main', pl: 1 }}>
      <Box sx={{ display: 'flex', gap: 0.75, fontSize: 14, lineHeight: 1.35 }}>
        <Box sx={{ color: 'warning.main', flex: 'none', pt: '1px' }}>
          <FindingIcon size={16} />
        </Box>
        <Box>
          {outlineName && <b>{outlineName}. </b>}
          {finding.says}
        </Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 0.5, mt: 0.25 }}>
        <Button onClick={onGo} sx={{ whiteSpace: 'nowrap', flex: 'none' }}>
          Go there
        </Button>
        {finding.fix && (
          <Button variant="outlined" disabled={busy} onClick={onMend}>
            {fixLabels[finding.fix]}
          </Button>
        )}
      </Box>
    </Box>
  );
}
