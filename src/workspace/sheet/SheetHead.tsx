import Box from '@mui/material/Box';
import type { LayerRow, OutlineRow } from '@/core/document/tables';
import { LoopIcon, NarrowIcon, SeamIcon, WidenIcon } from '@/interface/icons';
import { RoleMark } from '@/interface/RoleMark';
import { SmallButton } from '@/interface/SmallButton';
import { layerName } from '../session/layer-name';
import { setView } from '../view/view-store';
import { gutter, sheetColumns } from './shown-columns';

const head = { fontSize: 11, color: 'text.secondary' };

/** What the sheet's columns are. @param inHand id of the layer whose column is in hand. */
export function SheetHead({
  columns,
  layers,
  handles,
  outlines,
  inHand,
  narrow,
}: {
  columns: string;
  layers: readonly LayerRow[];
  /** What each layer's shot has beyond what is shown, in words. */
  handles: readonly string[];
  outlines: readonly OutlineRow[];
  inHand: string | null;
  narrow: boolean;
}) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: columns,
        alignItems: 'center',
        columnGap: `${narrow ? sheetColumns.narrow.gap : sheetColumns.wide.gap}px`,
        pl: 1,
        pr: `${gutter}px`,
        height: 30,
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box sx={head}>Frame</Box>
      {layers.map((layer, k) => (
        <Box
          key={layer.id}
          component="button"
          aria-pressed={layer.id === inHand}
          aria-label={`Take the column of the ${layerName(layer)} in hand`}
          title={[`Drag this column to slip the ${layerName(layer)}.`, handles[k]].join(' ').trim()}
          onClick={() => setView({ layerId: layer.id })}
          sx={{
            justifySelf: 'end',
            border: 0,
            p: '2px',
            bgcolor: 'transparent',
            borderBottom: 2,
            borderColor: layer.id === inHand ? 'primary.main' : 'transparent',
            cursor: 'pointer',
            filter: layer.visible ? undefined : 'saturate(0.35)',
          }}
        >
          <RoleMark role={layer.role} size={16} />
        </Box>
      ))}
      {!narrow && <Box sx={head}>Result</Box>}
      {outlines.map((outline) => (
        <Box key={outline.id} sx={{ ...head, textAlign: 'center' }} title={outline.name}>
          {outline.kind === 'seam' ? <SeamIcon size={15} /> : <LoopIcon size={15} />}
        </Box>
      ))}
      <Box sx={{ display: 'flex', alignItems: 'center', minWidth: 0 }}>
        <Box sx={{ ...head, overflow: 'hidden', textOverflow: 'ellipsis', flex: 1 }}>
          {!narrow && 'Covered'}
        </Box>
        <SmallButton
          label={narrow ? 'Wider sheet, with pictures (Shift Q)' : 'Narrow sheet, without pictures (Shift Q)'}
          onClick={() => setView({ sheetNarrow: !narrow })}
        >
          {narrow ? <WidenIcon size={15} /> : <NarrowIcon size={15} />}
        </SmallButton>
      </Box>
    </Box>
  );
}
