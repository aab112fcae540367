'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { useTheme } from '@mui/material/styles';
import { useMemo } from 'react';
import { Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { belonging, edgeRange } from '@/core/checks/belonging';
import { pairOf } from '@/core/compose/scene';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { LayerMotion } from '@/core/compose/layer-motion';
import { steadying } from '@/core/motion/steady';
import { RoleMark } from '@/interface/RoleMark';
import { useDocument } from '../document/document-store';
import { changeLayer, draftLayer } from './lining-up';
import { layerName } from '../session/layer-name';
import { useTraced } from '../session/traced';
import { useView } from '../view/view-store';

/** How both shots move, what speaks against the pair, and what can be done about it. */
export function Belonging() {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const traced = useTraced();
  const inHand = useView((state) => state.layerId);
  const pair = useMemo(() => {
    // A hidden shot that is in hand is compared in the visible one's place.
    const found = pairOf(document, traced?.layer.id ?? null, inHand);
    return found && (found.map((layer) => sideOf(layer, shots)) as [Side, Side]);
  }, [document, traced, inHand, shots]);
  const result = useMemo(() => pair && belonging(document, ...pair), [document, pair]);
  if (!pair) return <Box sx={{ fontSize: 12.5 }}>It takes two shots to compare.</Box>;
  if (!result)
    return (
      <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
        {pair.every(({ shot }) => shot.frameCount > 1)
          ? 'Measure the movement first, above.'
          : 'A still does not move; there is nothing to compare.'}
      </Box>
    );
  const [top, other] = pair;
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1 }}>
      <MovementChart document={document} pair={pair} motions={[result.top, result.other]} />
      {result.findings.length === 0 ? (
        <Box sx={{ fontSize: 13 }}>
          <b>They do.</b> Same way, about the same speed, steady, long enough.
        </Box>
      ) : (
        <Box
          component="ul"
          aria-label="Findings"
          sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.75 }}
        >
          {result.findings.map((finding, k) => (
            <Box
              component="li"
              key={k}
              sx={{
                borderLeft: 3,
                borderColor: 'warning.main',
                pl: 1,
                fontSize: 12.5,
                display: 'grid',
                gap: 0.5,
              }}
            >
              {finding.says}
              {finding.fixes.map((fix) => (
                <Button
                  key={fix.label}
                  variant="outlined"
                  sx={{ justifySelf: 'start' }}
                  onClick={() => {
                    const layer = document.layers[fix.layerId];
                    changeLayer(`${fix.label}: the ${layerName(layer)}`, layer, fix.settings);
                  }}
                >
                  {fix.label}
                </Button>
              ))}
            </Box>
          ))}
        </Box>
      )}
      {[top, other].map((side) => (
        <Steady key={side.layer.id} side={side} document={document} />
      ))}
    </Box>
  );
}

type Side = { layer: LayerRow; shot: Shot; name: string };

function sideOf(layer: LayerRow, shots: readonly { shot: Shot }[]): Side {
  const { shot } = shots.find((media) => media.shot.id === layer.shotId)!;
  return { layer, shot, name: `“${shot.name}”` };
}

/** Speed and direction of both pictures at each frame. */
function MovementChart({
  document,
  pair,
  motions,
}: {
  document: CrossingDocument;
  pair: [Side, Side];
  motions: [LayerMotion, LayerMotion];
}) {
  const theme = useTheme();
  const data = useMemo(() => {
    // Directions against the traced shot's own, each going on from the frame before instead of leaping round.
    const way = Math.atan2(motions[0].meanY, motions[0].meanX);
    const turns = motions.map(({ dx, dy, meanX, meanY }) => {
      let before = nearestTurn(way - Math.atan2(meanY, meanX), 0);
      return Array.from(dx, (x, n) => {
        if (Number.isNaN(x) || Math.hypot(x, dy[n]) < 0.2) return null;
        before = nearestTurn(way - Math.atan2(dy[n], x), before);
        return Math.round((before * 180) / Math.PI);
      });
    });
    return Array.from({ length: document.crossing.length }, (_, n) => {
      const point: Record<string, number | null> = { n };
      motions.forEach(({ dx, dy }, k) => {
        const there = !Number.isNaN(dx[n]);
        point[`speed${k}`] = there ? Math.round(Math.hypot(dx[n], dy[n]) * 100) / 100 : null;
        point[`way${k}`] = turns[k][n];
      });
      return point;
    });
  }, [document.crossing.length, motions]);
  const [from, to] = edgeRange(document);
  const ink = theme.palette.text.secondary;
  const chart = (
    key: 'speed' | 'way',
    label: string,
    domain: [number, number | 'auto'],
    ticks?: number[],
  ) => (
    <Box>
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{label}</Box>
      <Box sx={{ height: 74 }} role="img" aria-label={label}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={data} margin={{ top: 3, right: 4, bottom: 0, left: 0 }} accessibilityLayer={false}>
            <XAxis dataKey="n" type="number" domain={[0, 'dataMax']} hide />
            <YAxis
              domain={domain}
              ticks={ticks}
              width={30}
              tick={{ fontSize: 10, fill: ink }}
              stroke={theme.kiv.line}
            />
            {[from, to].map((frame) => (
              <ReferenceLine key={frame} x={frame} stroke={ink} strokeDasharray="2 3" />
            ))}
            {pair.map(({ layer }, k) => (
              <Line
                key={layer.id}
                dataKey={`${key}${k}`}
                stroke={theme.kiv.role[layer.role]}
                strokeWidth={1.8}
                strokeDasharray={k === 0 ? undefined : '5 3'}
                dot={false}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      </Box>
    </Box>
  );
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <Box sx={{ display: 'grid', gap: 0.25, fontSize: 12 }}>
        {pair.map(({ layer, name }, k) => (
          <Box key={layer.id} sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
            <RoleMark role={layer.role} size={15} />
            <Box
              component="span"
              sx={{ minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {name}
            </Box>
            <Box component="span" sx={{ whiteSpace: 'nowrap', color: 'text.secondary' }}>
              {wayOf(motions[k])}
            </Box>
          </Box>
        ))}
      </Box>
      {chart('speed', 'Speed, px a frame', [0, 'auto'])}
      {chart('way', 'Direction, degrees off the traced shot’s own', [-200, 200], [-180, -90, 0, 90, 180])}
    </Box>
  );
}

/** The angle, radians, with full turns added or taken so that it lies nearest to another. */
function nearestTurn(angle: number, to: number): number {
  return angle - 2 * Math.PI * Math.round((angle - to) / (2 * Math.PI));
}

function wayOf({ meanX, meanY }: LayerMotion): string {
  const speed = Math.hypot(meanX, meanY);
  if (speed < 0.3) return 'still';
  const ways = ['right', 'down right', 'down', 'down left', 'left', 'up left', 'up', 'up right'];
  const turn = Math.round((Math.atan2(meanY, meanX) / (2 * Math.PI)) * 8);
  return `${ways[(turn + 8) % 8]} ${speed.toFixed(1)} px`;
}

/** How far a shot's unsteadiness is taken out, what that costs, and what it gains. */
function Steady({ side: { layer, shot, name }, document }: { side: Side; document: CrossingDocument }) {
  const draft = useView(
    (state) => state.draft?.find((change) => change.table === 'layer' && change.id === layer.id)?.after,
  ) as LayerRow | undefined;
  const strength = draft?.steady ?? layer.steady;
  if (!shot.motion) return null;
  const { zoom, before, after } = steadying(shot.motion, strength, shot.width, shot.height);
  return (
    <Box sx={{ display: 'grid', fontSize: 12.5 }}>
      <Box>
        Steady {name}: {strength === 0 ? 'off' : `${strength} %`}
      </Box>
      <Slider
        size="small"
        value={strength}
        min={0}
        max={100}
        step={5}
        aria-label={`Steady ${shot.name}`}
        onChange={(_event, value) => draftLayer(document.layers[layer.id], { steady: value as number })}
        onChangeCommitted={(_event, value) =>
          changeLayer(`Steady the ${layerName(layer)}`, layer, { steady: value as number })
        }
      />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, color: 'text.secondary' }}>
        {strength > 0 && <CropDrawing zoom={zoom} />}
        <span>
          strays {before.toFixed(1)} px
          {strength > 0 &&
            `, ${after.toFixed(1)} px steadied; ${((1 - 1 / zoom) * 100).toFixed(0)} % cropped`}
        </span>
      </Box>
    </Box>
  );
}

/** How much of the picture is left of a frame that is enlarged by `zoom`. */
function CropDrawing({ zoom }: { zoom: number }) {
  const [width, height] = [48 / zoom, 27 / zoom];
  return (
    <svg width={50} height={29} viewBox="-1 -1 50 29" aria-hidden style={{ flex: 'none' }}>
      <rect width={48} height={27} fill="none" stroke="currentColor" strokeDasharray="2 2" />
      <rect
        x={(48 - width) / 2}
        y={(27 - height) / 2}
        width={width}
        height={height}
        fill="currentColor"
        fillOpacity={0.25}
        stroke="currentColor"
      />
    </svg>
  );
}
