import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { layoutOf } from '@/core/document/plans';
import { type Plan, planNames } from '@/core/model/choices';
import { PlanDrawing } from './PlanDrawing';

/** The plans by picture, and what happens in the one chosen. */
export function PlanChoice({ plan, onChoose }: { plan: Plan; onChoose(plan: Plan): void }) {
  return (
    <>
      <Box
        role="radiogroup"
        aria-label="Plan"
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1, mt: 0.5 }}
      >
        {planNames.map((each) => (
          <PlanCard key={each} plan={each} chosen={each === plan} onChoose={onChoose} />
        ))}
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: 14 }}>{layoutOf(plan).says}</Box>
    </>
  );
}

function PlanCard({ plan, chosen, onChoose }: { plan: Plan; chosen: boolean; onChoose(plan: Plan): void }) {
  return (
    <ButtonBase
      role="radio"
      aria-checked={chosen}
      aria-label={plan}
      title={layoutOf(plan).says}
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
      <PlanDrawing plan={plan} width={76} />
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontWeight: 700, fontSize: 14 }}>{plan[0].toUpperCase() + plan.slice(1)}</Box>
      </Box>
    </ButtonBase>
  );
}
