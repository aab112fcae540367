'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { BlurBorder } from '@/core/model/choices';
import { blurChannels } from '@/core/model/channels';
import type { keysOf } from '@/core/document/keys';
import { Fold } from '@/interface/Fold';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { hasKeys, Rows } from './ChannelRow';
import { changeBlurBorder, changeShutter, riseAndFall } from './blur-commands';

const borderSays: Record<BlurBorder, string> = {
  extend: 'extend the pixels at the border',
  mirror: 'mirror the picture',
  transparent: 'show what lies beneath',
};

/** Blur of what moves, by the crossing's shutter, and blurs with keys of their own. */
export function BlurKeys({ keys, frame }: { keys: ReturnType<typeof keysOf>; frame: number }) {
  const { moveShutter, blurBorder } = useDocument((state) => state.document!.crossing);
  return (
    <Fold heading="Blur" meant={moveShutter > 0 || hasKeys(keys, blurChannels)}>
      <Box sx={{ display: 'grid', gap: 1.5, pt: 1 }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 0.75 }}>
          <NumberField
            label="Motion blur shutter"
            value={moveShutter}
            low={0}
            high={720}
            unit="°"
            onChange={changeShutter}
          />
          <Button
            variant="outlined"
            title="As long as most cameras leave it open: half of each frame"
            disabled={moveShutter === 180}
            onClick={() => changeShutter(180)}
          >
            180°
          </Button>
        </Box>
        <Rows channels={blurChannels} frame={frame} />
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          x and y are counted from the middle of the frame; once keyed, the point can be dragged on the
          picture.
        </Box>
        <TextField
          select
          label="Beyond a blurred shot’s border"
          value={blurBorder}
          onChange={(event) => changeBlurBorder(event.target.value as BlurBorder)}
        >
          {(Object.keys(borderSays) as BlurBorder[]).map((border) => (
            <MenuItem key={border} value={border}>
              {borderSays[border]}
            </MenuItem>
          ))}
        </TextField>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          Add a blur peaking here, 6 frames to either side:
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
          <Button variant="outlined" onClick={() => riseAndFall('blur-along')}>
            Along
          </Button>
          <Button variant="outlined" onClick={() => riseAndFall('blur-towards')}>
            Towards
          </Button>
        </Box>
      </Box>
    </Fold>
  );
}
