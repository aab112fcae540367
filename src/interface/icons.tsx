import Check from '@mui/icons-material/Check';
import DeleteOutlined from '@mui/icons-material/DeleteOutlined';
import DirectionsWalk from '@mui/icons-material/DirectionsWalk';
import FlagOutlined from '@mui/icons-material/FlagOutlined';
import KeyboardArrowDown from '@mui/icons-material/KeyboardArrowDown';
import KeyboardArrowUp from '@mui/icons-material/KeyboardArrowUp';
import KeyboardOutlined from '@mui/icons-material/KeyboardOutlined';
import LightbulbOutlined from '@mui/icons-material/LightbulbOutlined';
import Lock from '@mui/icons-material/Lock';
import LockOpenOutlined from '@mui/icons-material/LockOpenOutlined';
import MoreVert from '@mui/icons-material/MoreVert';
import NavigateBefore from '@mui/icons-material/NavigateBefore';
import NavigateNext from '@mui/icons-material/NavigateNext';
import Pause from '@mui/icons-material/Pause';
import PlayArrow from '@mui/icons-material/PlayArrow';
import RectangleOutlined from '@mui/icons-material/RectangleOutlined';
import RedoOutlined from '@mui/icons-material/RedoOutlined';
import ScheduleOutlined from '@mui/icons-material/ScheduleOutlined';
import UndoOutlined from '@mui/icons-material/UndoOutlined';
import VolumeOffOutlined from '@mui/icons-material/VolumeOffOutlined';
import VolumeUpOutlined from '@mui/icons-material/VolumeUpOutlined';
import VisibilityOffOutlined from '@mui/icons-material/VisibilityOffOutlined';
import VisibilityOutlined from '@mui/icons-material/VisibilityOutlined';
import WarningAmberOutlined from '@mui/icons-material/WarningAmberOutlined';
import ZoomInOutlined from '@mui/icons-material/ZoomInOutlined';
import type { SvgIconComponent } from '@mui/icons-material';
import type { ReactNode } from 'react';

/** A common icon of the library, at a size in px. */
function common(Drawing: SvgIconComponent) {
  const Icon = ({ size = 20 }: { size?: number }) => <Drawing sx={{ fontSize: size }} aria-hidden />;
  Icon.displayName = 'CommonIcon';
  return Icon;
}

export const UndoIcon = common(UndoOutlined);
export const RedoIcon = common(RedoOutlined);
export const PlayIcon = common(PlayArrow);
export const PauseIcon = common(Pause);
export const ClockIcon = common(ScheduleOutlined);
export const BackIcon = common(NavigateBefore);
export const ForwardIcon = common(NavigateNext);
export const KeysIcon = common(KeyboardOutlined);
export const LampIcon = common(LightbulbOutlined);
export const DeleteIcon = common(DeleteOutlined);
export const EyeIcon = common(VisibilityOutlined);
export const EyeShutIcon = common(VisibilityOffOutlined);
export const UpIcon = common(KeyboardArrowUp);
export const DownIcon = common(KeyboardArrowDown);
export const MarkIcon = common(FlagOutlined);
export const RectangleIcon = common(RectangleOutlined);
export const LockIcon = common(Lock);
export const UnlockIcon = common(LockOpenOutlined);
export const MoreIcon = common(MoreVert);
export const FindingIcon = common(WarningAmberOutlined);
export const LoupeIcon = common(ZoomInOutlined);
export const PeopleIcon = common(DirectionsWalk);
export const TickIcon = common(Check);
export const HeardIcon = common(VolumeUpOutlined);
export const MutedIcon = common(VolumeOffOutlined);

/** Kiv's own things: line drawings on a 20 × 20 field, in the colour of the text. */
function drawn(name: string, children: ReactNode) {
  const Icon = ({ size = 20 }: { size?: number }) => (
    <svg
      width={size}
      height={size}
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.6}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden
    >
      {children}
    </svg>
  );
  Icon.displayName = name;
  return Icon;
}

export const EditIcon = drawn(
  'EditIcon',
  <>
    <circle cx="5" cy="14" r="2.2" />
    <circle cx="14" cy="5" r="2.2" fill="currentColor" />
    <path d="M6.6 12.4 12.4 6.6M13 13l4 4M13 17l4-4" />
  </>,
);
export const SeamIcon = drawn(
  'SeamIcon',
  <>
    <path d="M12 1.5c-5 5 3 9-2 17" />
    <path d="M8.6 4.5 5 3.8M9 9 5.4 9.6M9.6 13.5 6 14.5" strokeWidth={1.1} />
  </>,
);
export const DraftIcon = drawn(
  'DraftIcon',
  <>
    <rect x="2.500" y="4" width="15" height="12" />
    <path d="M11.500 4c-3 3.500 2.500 7-1 12" strokeDasharray="1.500 2.600" />
    <path d="M5 13.500 8 10.500M5 9.500 7.500 7" strokeWidth={1.1} />
  </>,
);
export const LoopIcon = drawn(
  'LoopIcon',
  <path d="M10 3c5 0 7 3 6.4 7S12 17 8.5 16.6 2.8 12 4 8s3.500-5 6-5Z" />,
);
export const BrushIcon = drawn(
  'BrushIcon',
  <>
    <path d="M4 13.500c3.500-6 6 3 12-7" strokeWidth={4.5} opacity=".4" />
    <path d="M4 13.500c3.500-6 6 3 12-7" />
  </>,
);
export const OnionIcon = drawn(
  'OnionIcon',
  <>
    <path d="M5 4c-3 4-3 8 0 12" opacity=".45" />
    <path d="M10 3c-3.500 4.500-3.500 9.500 0 14" />
    <path d="M15 4c-3 4-3 8 0 12" opacity=".45" />
  </>,
);
export const FlipIcon = drawn(
  'FlipIcon',
  <>
    <path d="M10 2v16" strokeDasharray="2 2.400" />
    <path d="M7 6 3 10l4 4M13 6l4 4-4 4" />
  </>,
);
export const FoldLeftIcon = drawn(
  'FoldLeftIcon',
  <>
    <rect x="2.500" y="3.500" width="15" height="13" />
    <path d="M7 3.500v13M13 7.500 10.500 10l2.500 2.500" />
  </>,
);
export const FoldRightIcon = drawn(
  'FoldRightIcon',
  <>
    <rect x="2.500" y="3.500" width="15" height="13" />
    <path d="M13 3.500v13M7 7.500 9.500 10 7 12.500" />
  </>,
);
export const NarrowIcon = drawn(
  'NarrowIcon',
  <path d="M2.500 10h5M5.500 7l3 3-3 3M17.500 10h-5M14.500 7l-3 3 3 3" />,
);
export const WidenIcon = drawn(
  'WidenIcon',
  <path d="M8.500 10h-6M5.500 7l-3 3 3 3M11.500 10h6M14.500 7l3 3-3 3" />,
);
export const OpenMarkIcon = drawn(
  'OpenMarkIcon',
  <circle cx="10" cy="10" r="4" strokeDasharray="2.500 2.500" />,
);
export const SoloIcon = drawn(
  'SoloIcon',
  <>
    <rect x="5" y="6" width="10" height="8" fill="currentColor" />
    <path d="M3 3.500h14M3 16.500h14" opacity=".4" />
  </>,
);
export const BoxIcon = drawn(
  'BoxIcon',
  <>
    <path d="M4 5.500h12v10H4Z" strokeDasharray="2.500 2" />
    <path d="M3 4.500h2v2H3ZM15 4.500h2v2h-2ZM3 14.500h2v2H3ZM15 14.500h2v2h-2Z" fill="currentColor" />
  </>,
);
export const EllipseIcon = drawn('EllipseIcon', <ellipse cx="10" cy="10" rx="7.500" ry="5" />);
export const FreehandIcon = drawn('FreehandIcon', <path d="M2.500 14c3-1 2-8 5-8s1 9 4 9 2-7 6-8" />);
export const AlongEdgeIcon = drawn(
  'AlongEdgeIcon',
  <>
    <path d="M11 2c-4 4 2 6-1 9s2 4 0 7" />
    <path d="M14 3v3M15 9v3M13 14v3" strokeDasharray="1 2" />
    <circle cx="11" cy="2.500" r="1.500" fill="currentColor" />
    <circle cx="10" cy="17.500" r="1.500" fill="currentColor" />
  </>,
);
export const KeyIcon = drawn(
  'KeyIcon',
  <path d="M10 4.500 15.500 10 10 15.500 4.500 10z" fill="currentColor" />,
);
export const NoKeyIcon = drawn('NoKeyIcon', <path d="M10 4.500 15.500 10 10 15.500 4.500 10z" />);
