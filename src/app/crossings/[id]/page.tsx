import { Workspace } from '@/workspace/Workspace';

export default async function CrossingPage({ params }: { params: Promise<{ id: string }> }) {
  return <Workspace crossingId={(await params).id} />;
}
