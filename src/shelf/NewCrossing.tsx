'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { layoutOf, plans } from '@/core/document/plans';
import type { Plan, Role } from '@/core/document/rows';
import type { ShotListing } from '@/wire/answers';
import { call, sentenceOf } from '@/interface/api';
import { RoleMark } from '@/interface/RoleMark';
import { roleName } from '@/interface/theme';
import { PlanDrawing } from './PlanDrawing';

/** Choosing the plan and the shots of a new crossing. */
export function NewCrossing({
  shots,
  first,
  onClose,
}: {
  shots: ShotListing[];
  /** A shot to begin with, as the outgoing one. */
  first?: string;
  onClose(): void;
}) {
  const router = useRouter();
  const [plan, setPlan] = useState<Plan>('pass-by');
  const [name, setName] = useState('');
  const begin = first ?? shots[0]?.id ?? '';
  const rest = shots.filter(({ id }) => id !== begin);
  const [chosen, setChosen] = useState<Record<Role, string>>({
    outgoing: begin,
    incoming: rest[0]?.id ?? '',
    passing: rest[1]?.id ?? rest[0]?.id ?? '',
  });
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const layout = layoutOf(plan);
  const roles: Role[] = ['outgoing', ...(plan === 'bridge' ? (['passing'] as const) : []), 'incoming'];
  const nameOf = (role: Role) => shots.find((shot) => shot.id === chosen[role])?.name ?? '';
  const suggested = `${nameOf('outgoing')} to ${nameOf('incoming')}`;

  const create = async () => {
    setBusy(true);
    try {
      const { id } = await call<{ id: string }>('/api/crossings', 'POST', {
        name: name.trim() || suggested.slice(0, 120),
        plan,
        outgoingShotId: chosen.outgoing,
        incomingShotId: chosen.incoming,
        ...(plan === 'bridge' ? { passingShotId: chosen.passing } : {}),
      });
      router.push(`/crossings/${id}`);
    } catch (error) {
      setFailure(sentenceOf(error));
      setBusy(false);
    }
  };

  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>New crossing</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        {shots.length < 2 ? (
          <Alert severity="info">
            A crossing needs two shots. Bring them in under <Link href="/footage">Footage</Link> first.
          </Alert>
        ) : (
          <>
            <Box
              role="radiogroup"
              aria-label="Plan"
              sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1 }}
            >
              {plans.map((each) => (
                <PlanCard key={each.plan} plan={each.plan} chosen={each.plan === plan} onChoose={setPlan} />
              ))}
            </Box>
            <Box sx={{ color: 'text.secondary' }}>{layout.says}</Box>
            <Box sx={{ display: 'grid', gridTemplateColumns: `repeat(${roles.length}, 1fr)`, gap: 2 }}>
              {roles.map((role) => (
                <Box key={role} sx={{ display: 'grid', gridTemplateColumns: '24px 1fr', gap: 1 }}>
                  <Box sx={{ pt: 1.25 }}>
                    <RoleMark role={role} />
                  </Box>
                  <TextField
                    select
                    label={`${roleName[role]} shot`}
                    value={chosen[role]}
                    onChange={(event) => setChosen({ ...chosen, [role]: event.target.value })}
                    helperText={
                      role === layout.traced
                        ? 'The moving edge is in this one'
                        : role === 'incoming'
                          ? 'What is seen after it'
                          : 'What is seen before it'
                    }
                    fullWidth
                  >
                    {shots.map((shot) => (
                      <MenuItem key={shot.id} value={shot.id}>
                        {shot.name}
                      </MenuItem>
                    ))}
                  </TextField>
                </Box>
              ))}
            </Box>
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
          disabled={busy || shots.length < 2 || roles.some((role) => !chosen[role])}
          onClick={() => void create()}
        >
          Create
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function PlanCard({ plan, chosen, onChoose }: { plan: Plan; chosen: boolean; onChoose(plan: Plan): void }) {
  const { roles, missing } = layoutOf(plan);
  return (
    <ButtonBase
      role="radio"
      aria-checked={chosen}
      aria-label={roles ? plan : `${plan}: ${missing}`}
      aria-disabled={!roles}
      disabled={!roles}
      onClick={() => onChoose(plan)}
      sx={{
        display: 'grid',
        gridTemplateColumns: '76px 1fr',
        gap: 1,
        p: 1,
        textAlign: 'left',
        alignContent: 'start',
        alignItems: 'start',
        border: 1,
        outline: chosen ? 2 : 0,
        outlineStyle: 'solid',
        outlineColor: 'primary.main',
        borderColor: chosen ? 'primary.main' : 'divider',
        borderRadius: 1,
        fontFamily: 'inherit',
      }}
    >
      <Box sx={{ opacity: roles ? 1 : 0.45 }}>
        <PlanDrawing plan={plan} width={76} />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontWeight: 700, fontSize: 14, color: roles ? 'text.primary' : 'text.secondary' }}>
          {plan[0].toUpperCase() + plan.slice(1)}
        </Box>
        {missing && <Box sx={{ fontSize: 11.5, color: 'text.secondary', lineHeight: 1.25 }}>{missing}</Box>}
      </Box>
    </ButtonBase>
  );
}
