import Box from '@mui/material/Box';

/** What a lane's height stands for, beside it. @param values from the top down, evenly spaced. */
export function LaneScale({ values }: { values: readonly string[] }) {
  return (
    <Box
      sx={{
        position: 'absolute',
        right: '100%',
        mr: 0.75,
        top: -6,
        bottom: -6,
        fontSize: 11,
        color: 'text.secondary',
        display: 'flex',
        flexDirection: 'column',
        justifyContent: 'space-between',
        textAlign: 'right',
        whiteSpace: 'nowrap',
      }}
    >
      {values.map((value) => (
        <span key={value}>{value}</span>
      ))}
    </Box>
  );
}
