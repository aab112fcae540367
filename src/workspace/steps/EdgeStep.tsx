'use client';

import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import type { FeatherSide, OutlineRow } from '@/core/document/rows';
import { changeOutline, draftOutline } from '../commands';
import { useOutline } from '../traced';
import { useView } from '../view-store';
import { NumberField } from './NumberField';

/** Softness and growth of the outline in hand. */
export function EdgeStep() {
  const inHand = useOutline();
  const draft = useView((state) => state.draft);
  if (!inHand)
    return <Box sx={{ color: 'text.secondary' }}>Draw an outline first; its softness is set here.</Box>;
  const drafted = draft?.find((change) => change.table === 'outline' && change.id === inHand.outline.id)
    ?.after as OutlineRow | undefined;
  const outline = drafted ?? inHand.outline;
  // The wide softnesses need less finesse than the narrow ones: the slider runs along the square root.
  const along = Math.sqrt(outline.feather);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{outline.name}, in pixels of the shot</Box>
      <ToggleButtonGroup
        exclusive
        fullWidth
        size="small"
        value={outline.featherSide}
        aria-label="Where the feather lies"
        onChange={(_event, side: FeatherSide | null) =>
          side && changeOutline('Feather side', { featherSide: side })
        }
      >
        <ToggleButton value="inside">Inside</ToggleButton>
        <ToggleButton value="both">Both</ToggleButton>
        <ToggleButton value="outside">Outside</ToggleButton>
      </ToggleButtonGroup>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 104px', alignItems: 'center', gap: 2 }}>
        <Slider
          aria-label="Feather"
          min={0}
          max={Math.sqrt(200)}
          step={0.1}
          value={along}
          scale={(value) => Math.round(value * value * 2) / 2}
          onChange={(_event, value) => draftOutline({ feather: Math.round((value as number) ** 2 * 2) / 2 })}
          onChangeCommitted={(_event, value) =>
            changeOutline('Feather', { feather: Math.round((value as number) ** 2 * 2) / 2 })
          }
        />
        <NumberField
          label="Feather"
          value={outline.feather}
          low={0}
          high={500}
          unit="px"
          onChange={(feather) => changeOutline('Feather', { feather })}
        />
        <Slider
          aria-label="Spread"
          min={-60}
          max={60}
          step={0.5}
          track={false}
          marks={[{ value: 0, label: '0' }]}
          value={outline.spread}
          onChange={(_event, value) => draftOutline({ spread: value as number })}
          onChangeCommitted={(_event, value) => changeOutline('Spread', { spread: value as number })}
        />
        <NumberField
          label="Spread"
          value={outline.spread}
          low={-500}
          high={500}
          unit="px"
          onChange={(spread) => changeOutline('Spread', { spread })}
        />
      </Box>
    </Box>
  );
}
