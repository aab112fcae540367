import type { ReactNode } from 'react';

/** Line drawings on a 20 × 20 field, in the colour of the text. */
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
export const LoopIcon = drawn(
  'LoopIcon',
  <path d="M10 3c5 0 7 3 6.4 7S12 17 8.5 16.6 2.8 12 4 8s3.500-5 6-5Z" />,
);
export const UndoIcon = drawn(
  'UndoIcon',
  <path d="M7 4 3.500 7.500 7 11M4 7.500h7.500a4.500 4.500 0 0 1 0 9H8" />,
);
export const RedoIcon = drawn(
  'RedoIcon',
  <path d="m13 4 3.500 3.500L13 11M16 7.500H8.500a4.500 4.500 0 0 0 0 9H12" />,
);
export const PlayIcon = drawn('PlayIcon', <path d="M6 3.500v13l10-6.500Z" fill="currentColor" />);
export const PauseIcon = drawn('PauseIcon', <path d="M6.500 4v12M13.500 4v12" strokeWidth={3} />);
export const BackIcon = drawn('BackIcon', <path d="M12.500 4 6.500 10l6 6" />);
export const ForwardIcon = drawn('ForwardIcon', <path d="m7.500 4 6 6-6 6" />);
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
export const KeysIcon = drawn(
  'KeysIcon',
  <>
    <rect x="2" y="5" width="16" height="10" rx="1.500" />
    <path d="M5 8.500h.01M8.300 8.500h.01M11.600 8.500h.01M15 8.500h.01M6.500 12h7" />
  </>,
);
export const LampIcon = drawn(
  'LampIcon',
  <>
    <path d="M10 2.500a5 5 0 0 0-2.500 9.300V14h5v-2.200A5 5 0 0 0 10 2.500Z" />
    <path d="M8 17h4" />
  </>,
);
export const DeleteIcon = drawn('DeleteIcon', <path d="M4 6h12M8 6V4h4v2M6 6l.7 10.500h6.600L14 6" />);
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
export const TickIcon = drawn('TickIcon', <path d="m4 10.500 4 4 8-9" strokeWidth={2.2} />);
export const OpenMarkIcon = drawn(
  'OpenMarkIcon',
  <circle cx="10" cy="10" r="4" strokeDasharray="2.500 2.500" />,
);
export const EyeIcon = drawn(
  'EyeIcon',
  <>
    <path d="M2 10c4-6.500 12-6.500 16 0-4 6.500-12 6.500-16 0Z" />
    <circle cx="10" cy="10" r="2.400" />
  </>,
);
export const EyeShutIcon = drawn(
  'EyeShutIcon',
  <path d="M2 9c4 6 12 6 16 0M5 12.500 3.600 15M10 13.600V17M15 12.500l1.400 2.500" />,
);
export const SoloIcon = drawn(
  'SoloIcon',
  <>
    <rect x="5" y="6" width="10" height="8" fill="currentColor" />
    <path d="M3 3.500h14M3 16.500h14" opacity=".4" />
  </>,
);
export const UpIcon = drawn('UpIcon', <path d="m4.500 12.500 5.500-6 5.500 6" />);
export const DownIcon = drawn('DownIcon', <path d="m4.500 7.500 5.500 6 5.500-6" />);
export const MarkIcon = drawn('MarkIcon', <path d="M5 17.500V3h10l-3 3.500L15 10H5" />);
export const BoxIcon = drawn(
  'BoxIcon',
  <>
    <path d="M4 5.500h12v10H4Z" strokeDasharray="2.500 2" />
    <path d="M3 4.500h2v2H3ZM15 4.500h2v2h-2ZM3 14.500h2v2H3ZM15 14.500h2v2h-2Z" fill="currentColor" />
  </>,
);
export const RectangleIcon = drawn('RectangleIcon', <rect x="3" y="5" width="14" height="10" />);
export const EllipseIcon = drawn('EllipseIcon', <ellipse cx="10" cy="10" rx="7.500" ry="5" />);
export const FreehandIcon = drawn('FreehandIcon', <path d="M2.500 14c3-1 2-8 5-8s1 9 4 9 2-7 6-8" />);
export const LockIcon = drawn(
  'LockIcon',
  <>
    <rect x="4.500" y="9" width="11" height="8" rx="1" fill="currentColor" />
    <path d="M7 9V6a3 3 0 0 1 6 0v3" />
  </>,
);
export const UnlockIcon = drawn(
  'UnlockIcon',
  <>
    <rect x="4.500" y="9" width="11" height="8" rx="1" />
    <path d="M7 9V5.500a3 3 0 0 1 5.600-1.400" />
  </>,
);
export const MoreIcon = drawn(
  'MoreIcon',
  <path d="M10 4.500h.01M10 10h.01M10 15.500h.01" strokeWidth={2.6} />,
);
export const KeyIcon = drawn('KeyIcon', <circle cx="10" cy="10" r="4.500" fill="currentColor" />);
export const NoKeyIcon = drawn('NoKeyIcon', <circle cx="10" cy="10" r="4.500" />);
export const FindingIcon = drawn(
  'FindingIcon',
  <>
    <path d="M10 2.500 18 16.500H2Z" />
    <path d="M10 8v4M10 14.300h.01" />
  </>,
);
export const LoupeIcon = drawn(
  'LoupeIcon',
  <>
    <circle cx="8.500" cy="8.500" r="5.500" />
    <path d="m12.800 12.800 4.700 4.700M8.500 6v5M6 8.500h5" />
  </>,
);
