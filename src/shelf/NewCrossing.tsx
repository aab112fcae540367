'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ShotListing } from '@/wire/answers';
import { call, sentenceOf } from '@/interface/api';
import { RoleMark } from '@/interface/RoleMark';

/** Choosing the shots of a new crossing. The plan is *pass-by*, the one that is laid out so far. */
export function NewCrossing({ shots, onClose }: { shots: ShotListing[]; onClose(): void }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [outgoing, setOutgoing] = useState(shots[0]?.id ?? '');
  const [incoming, setIncoming] = useState(shots[1]?.id ?? '');
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const suggested = [outgoing, incoming].map((id) => shots.find((shot) => shot.id === id)?.name).join(' to ');

  const create = async () => {
    setBusy(true);
    try {
      const { id } = await call<{ id: string }>('/api/crossings', 'POST', {
        name: name.trim() || suggested.slice(0, 120),
        plan: 'pass-by',
        outgoingShotId: outgoing,
        incomingShotId: incoming,
      });
      router.push(`/crossings/${id}`);
    } catch (error) {
      setFailure(sentenceOf(error));
      setBusy(false);
    }
  };

  const choice = (
    label: string,
    role: 'outgoing' | 'incoming',
    value: string,
    choose: (id: string) => void,
    hint: string,
  ) => (
    <Box sx={{ display: 'grid', gridTemplateColumns: '24px 1fr', gap: 1 }}>
      <Box sx={{ pt: 1.25 }}>
        <RoleMark role={role} />
      </Box>
      <TextField
        select
        label={label}
        value={value}
        onChange={(event) => choose(event.target.value)}
        helperText={hint}
        fullWidth
      >
        {shots.map((shot) => (
          <MenuItem key={shot.id} value={shot.id}>
            {shot.name}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );

  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>New crossing: pass-by</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        {shots.length < 2 ? (
          <Alert severity="info">
            A crossing needs two shots. Bring them in under <Link href="/footage">Footage</Link> first.
          </Alert>
        ) : (
          <>
            <Box sx={{ color: 'text.secondary' }}>
              Something moves through the outgoing shot; the incoming one appears behind it.
            </Box>
            {choice('Outgoing shot', 'outgoing', outgoing, setOutgoing, 'The moving object is in this one')}
            {choice('Incoming shot', 'incoming', incoming, setIncoming, 'What is seen after it')}
            <TextField
              label="Name"
              value={name}
              placeholder={suggested}
              onChange={(event) => setName(event.target.value)}
              slotProps={{ htmlInput: { maxLength: 120 }, inputLabel: { shrink: true } }}
              fullWidth
            />
          </>
        )}
        {failure && <Alert severity="error">{failure}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={busy || !outgoing || !incoming || shots.length < 2}
          onClick={() => void create()}
        >
          Create
        </Button>
      </DialogActions>
    </Dialog>
  );
}
