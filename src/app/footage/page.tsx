import { FootageView } from '@/footage-view/FootageView';
import { uploadLimit } from '@/server/receive';

export default function FootagePage() {
  return <FootageView limit={uploadLimit()} />;
}
