'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { PersonOutlines } from '@/core/subject/person-outlines';
import { boxAbout } from '@/core/geometry/rectangle';
import { flattenOutline } from '@/core/outline';
import { useSnackbar } from '@/interface/messages';
import { sourceFrameOf, useTraced } from '../session/traced';
import { setView } from '../view/view-store';
import { stopCarrying, useCarry } from './carry-store';
import { becomesNow, findPeople, foundOn, type PersonAs, personAs, takePerson, usePeople } from './people';

const becomes: Record<PersonAs, string> = {
  trailing: 'a seam on the trailing edge',
  leading: 'a seam on the leading edge',
  loop: 'a loop about the person',
};

/** The people on this frame, and what one who is taken becomes. */
export function PeoplePanel({ frame }: { frame: number }) {
  const traced = useTraced();
  const { found, pointed, becomes: chosen, says } = usePeople();
  const { under } = useCarry();
  const { enqueueSnackbar } = useSnackbar();
  const search = () => void findPeople().then((refusal) => refusal && enqueueSnackbar(refusal));
  if (!traced) return null;
  const people = foundOn(found, traced.layer.id, sourceFrameOf(traced, frame));
  return (
    <Box
      component="section"
      aria-label="Find people"
      sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.75 }}
    >
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {people && people.length > 0
          ? 'Press a person in the picture (with Shift, several). Then carry the outline on.'
          : 'Finds the people on this frame. It works best where the person is in full view.'}
      </Box>
      <TextField
        select
        label="The person becomes"
        fullWidth
        sx={{ mt: 0.75 }}
        value={becomesNow(traced, chosen)}
        onChange={(event) => usePeople.setState({ becomes: event.target.value as PersonAs })}
      >
        {personAs.map((value) => (
          <MenuItem key={value} value={value}>
            {becomes[value]}
          </MenuItem>
        ))}
      </TextField>
      {people?.map((person, k) => (
        <Button
          key={k}
          variant={k === pointed ? 'contained' : 'outlined'}
          onPointerEnter={() => usePeople.setState({ pointed: k })}
          onFocus={() => usePeople.setState({ pointed: k })}
          onPointerLeave={() => usePeople.setState({ pointed: null })}
          onBlur={() => usePeople.setState({ pointed: null })}
          onClick={(event) => takePerson(k, event.shiftKey)}
        >
          Take person {k + 1}, {placeOf(person, traced.shot.width)}
        </Button>
      ))}
      <Box role="status" sx={{ fontSize: 13 }}>
        {says ?? (under && `${under.what} …`)}
      </Box>
      {under && (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <LinearProgress variant="determinate" value={100 * under.share} aria-label={under.what} />
          <Button variant="outlined" onClick={stopCarrying}>
            Stop (Esc)
          </Button>
        </Box>
      )}
      {!under && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
          <Button variant={people ? 'outlined' : 'contained'} onClick={search}>
            {people ? 'Search again' : 'Search this frame'}
          </Button>
          <Button variant="outlined" onClick={() => setView({ tool: 'edit' })}>
            Close
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** Where a person is in the picture, in words. */
function placeOf(person: PersonOutlines, width: number): string {
  const [left, , right] = boxAbout(Array.from(flattenOutline(person.loops[0].coordinates, true, 1, 2)));
  const middle = (left + right) / 2 / width;
  return middle < 0.36 ? 'on the left' : middle > 0.64 ? 'on the right' : 'in the middle';
}
