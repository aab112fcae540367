'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useShallow } from 'zustand/react/shallow';
import { yuvToRgb } from '@/core/colour/matrix';
import type { ChromaRow } from '@/core/document/tables';
import { Fold } from '@/interface/Fold';
import { changeChroma, draftChroma, pickWithTool, dropChroma } from './chroma-commands';
import { useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { NumberField } from '../fields/NumberField';
import { SliderNumber } from '../fields/SliderNumber';
import { layoutOf } from '@/core/document/plans';

/** Cutting by colour: for boards and screens, before the outlines are joined. */
export function KeyedColour() {
  const traced = useTraced();
  const { tool, pickRadius, keyAlone, draft } = useView(
    useShallow(({ tool, pickRadius, keyAlone, draft }) => ({ tool, pickRadius, keyAlone, draft })),
  );
  if (!traced) return null;
  const kept = traced.document.chromas[traced.layer.id];
  const drafted = draft?.find(({ table, id }) => table === 'chroma' && id === kept?.id)?.after;
  const key = (drafted as ChromaRow | undefined) ?? kept;
  const meant = layoutOf(traced.document.crossing.plan).cutsBy === 'colour';
  return (
    <Fold heading={`Keyed colour${key ? '' : ': none'}`} meant={meant || kept !== undefined}>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1, pt: 0.75 }}>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {key
            ? 'Outlines add to the key: “keeps only” discards what lies outside, “takes away” protects a hand.'
            : 'Cuts away what has the colour of a board or a screen, in every frame.'}
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, alignItems: 'center' }}>
          <Button variant={tool === 'pick' ? 'contained' : 'outlined'} onClick={pickWithTool}>
            {tool === 'pick' ? 'Press on it' : key ? 'Pick again' : 'Pick a colour'}
          </Button>
          <NumberField
            label="Sample radius"
            value={pickRadius}
            low={1}
            high={200}
            unit="px"
            onChange={(radius) => setView({ pickRadius: radius })}
          />
        </Box>
        {tool === 'pick' && key && (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>With Shift: this colour too.</Box>
        )}
        {key && (
          <>
            <Box
              role="img"
              aria-label="The keyed colour"
              sx={{ height: 18, border: 1, borderColor: 'divider' }}
              style={{ background: swatch(key) }}
            />
            <Value label="Tolerance" name="tolerance" most={80} keyed={key} />
            <Value label="Softness" name="softness" most={80} keyed={key} />
            <Value label="Grow" name="grow" least={-20} most={20} unit="px" keyed={key} />
            <Value label="Clean up" name="clean" most={60} unit="px" keyed={key} />
            <Value label="Remove spill" name="spill" most={100} unit="%" keyed={key} />
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
              <Button
                variant={keyAlone ? 'contained' : 'outlined'}
                aria-pressed={keyAlone}
                onClick={() =>
                  setView({ keyAlone: !keyAlone, ...(keyAlone ? {} : { view: 'matte' as const }) })
                }
              >
                Key alone
              </Button>
              <Button variant="outlined" color="error" onClick={dropChroma}>
                Remove key
              </Button>
            </Box>
          </>
        )}
      </Box>
    </Fold>
  );
}

function Value({
  name,
  keyed,
  ...slider
}: {
  label: string;
  name: 'tolerance' | 'softness' | 'grow' | 'clean' | 'spill';
  least?: number;
  most: number;
  unit?: string;
  keyed: ChromaRow;
}) {
  return (
    <SliderNumber
      {...slider}
      value={keyed[name]}
      onDraft={(value) => draftChroma({ [name]: value })}
      onChange={(value) => changeChroma(slider.label, { [name]: value })}
    />
  );
}

/** The colour at middle brightness, for the eye. */
function swatch({ cb, cr }: ChromaRow): string {
  const m = yuvToRgb({ matrix: 'bt709', fullRange: false });
  const [r, g, b] = [0, 1, 2].map((k) =>
    Math.min(
      255,
      Math.max(0, Math.round(m[4 * k] * 110 + m[4 * k + 1] * cb + m[4 * k + 2] * cr + m[4 * k + 3])),
    ),
  );
  return `rgb(${r}, ${g}, ${b})`;
}
