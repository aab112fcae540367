'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { marksInOrder } from '@/core/document/document';
import { DeleteIcon, MarkIcon } from '@/interface/icons';
import { NameInput } from '@/interface/NameInput';
import { mono } from '@/interface/theme';
import { goTo } from '../session/go-to';
import { useDocument } from '../document/document-store';
import { changeMark, markFrame } from './lining-up';

/** Named frames, and the two that the moving edge begins and ends with. */
export function Marks() {
  const document = useDocument((state) => state.document)!;
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.75 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 0.75 }}>
        <Button
          variant="outlined"
          onClick={() => markFrame('opens')}
          title="The edge opens on this frame (U)"
        >
          Opens
        </Button>
        <Button
          variant="outlined"
          onClick={() => markFrame('closes')}
          title="The edge closes on this frame (Shift U)"
        >
          Closes
        </Button>
        <Button variant="outlined" onClick={() => markFrame('mark')} title="Mark this frame (T)">
          Mark
        </Button>
      </Box>
      {marksInOrder(document).map((mark) => (
        <Box key={mark.id} sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
          <MarkIcon size={15} />
          <NameInput
            value={mark.name}
            label={`Name of the mark at frame ${mark.frame}`}
            most={60}
            onName={(name) => changeMark(mark, { name })}
            sx={{ flex: 1, fontSize: 13 }}
          />
          <Button sx={{ minWidth: 0, font: `12px ${mono}` }} onClick={() => goTo(mark.frame)}>
            {mark.frame}
          </Button>
          <IconButton
            size="small"
            aria-label={`Remove the mark ${mark.name}`}
            onClick={() => changeMark(mark, null)}
          >
            <DeleteIcon size={14} />
          </IconButton>
        </Box>
      ))}
    </Box>
  );
}
