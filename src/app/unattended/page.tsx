import { Unattended } from '@/exports-view/Unattended';

export default function Page() {
  return <Unattended />;
}
