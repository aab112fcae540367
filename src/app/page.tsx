import { Shelf } from '@/shelf/Shelf';

export default function ShelfPage() {
  return <Shelf />;
}
