'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { strokesOf } from '@/core/document/document';
import type { StrokeMark } from '@/core/model/choices';
import { brushSizes, paintedOutline, type SubjectAs, usePainting } from './painting';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';

const marks: { mark: StrokeMark; label: string; tip: string }[] = [
  { mark: 'this', label: 'This', tip: 'Paint over what it is (Shift X: the next of these)' },
  { mark: 'not this', label: 'Not this', tip: 'Paint over what it is not (Shift X; or Alt while painting)' },
  { mark: 'open', label: 'Erase', tip: 'Erase strokes that were painted there (Shift X)' },
];

const becomes: Record<SubjectAs, string> = {
  loop: 'a loop about it',
  left: 'a seam on its left edge',
  right: 'a seam on its right edge',
};

const sizeOf = (value: number) => Math.exp(value);

/** The brush, and what has been painted on this frame. */
export function SubjectPanel({ frame }: { frame: number }) {
  const traced = useTraced();
  const inHand = useOutline();
  const { mark, size, becomes: as, waiting, says, anew } = usePainting();
  if (!traced) return null;
  const outline = paintedOutline(traced, inHand?.outline ?? null, anew);
  const source = sourceFrameOf(traced, frame);
  const all = outline ? strokesOf(traced.document, outline.id) : [];
  const here = all.filter((stroke) => stroke.frame === source).length;
  const elsewhere = [...new Set(all.map((stroke) => stroke.frame))].filter((other) => other !== source);
  return (
    <Box
      component="section"
      aria-label="Paint a subject"
      sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.75 }}
    >
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {outline
          ? `Painting ${outline.name}. Paint over what is missing, or with Alt over what does not belong.`
          : 'Paint roughly over what crosses: a stroke down its middle is enough to begin.'}
      </Box>
      <ToggleButtonGroup
        exclusive
        fullWidth
        size="small"
        value={mark}
        aria-label="What is painted"
        onChange={(_event, next: StrokeMark | null) => next && usePainting.setState({ mark: next })}
      >
        {marks.map(({ mark: value, label, tip }) => (
          <ToggleButton key={value} value={value} title={tip} sx={{ py: 0.4, px: 0.5, whiteSpace: 'nowrap' }}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, fontSize: 13 }}>
        <span title="Also with the keys &lt; and &gt;, or the wheel with Shift">Brush</span>
        <Slider
          size="small"
          aria-label="Width of the brush"
          min={Math.log(brushSizes.least)}
          max={Math.log(brushSizes.most)}
          step={0.05}
          value={Math.log(size)}
          onChange={(_event, value) => usePainting.setState({ size: sizeOf(value as number) })}
        />
        <Box sx={{ whiteSpace: 'nowrap' }}>{Math.round(2 * size * traced.shot.width)} px</Box>
      </Box>
      {!outline && (
        <TextField
          select
          label="Becomes"
          fullWidth
          value={as}
          onChange={(event) => usePainting.setState({ becomes: event.target.value as SubjectAs })}
        >
          {Object.entries(becomes).map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Box role="status" sx={{ fontSize: 13 }}>
        {waiting.length > 0 ? (
          <span aria-label="Cutting out">Cutting out…</span>
        ) : (
          ((says?.source === source ? says.text : null) ??
          (outline
            ? `${here === 0 ? 'No stroke' : here === 1 ? '1 stroke' : `${here} strokes`} on this frame${elsewhere.length > 0 ? `, others on ${elsewhere.length === 1 ? 'one frame' : `${elsewhere.length} frames`} more` : ''}.`
            : ''))
        )}
      </Box>
      {outline && (
        <Button variant="outlined" onClick={() => usePainting.setState({ anew: true, says: null })}>
          Another subject
        </Button>
      )}
      {anew && inHand && (
        <Button variant="outlined" onClick={() => usePainting.setState({ anew: false, says: null })}>
          Go on with {inHand.outline.name}
        </Button>
      )}
    </Box>
  );
}
