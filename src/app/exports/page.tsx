import { ExportsView } from '@/exports-view/ExportsView';

export default function ExportsPage() {
  return <ExportsView />;
}
