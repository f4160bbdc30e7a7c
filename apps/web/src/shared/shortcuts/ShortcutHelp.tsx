import { Modal } from 'antd';
import { LibraryTheme } from '../ui/LibraryTheme.js';
import { useShortcutList } from './shortcuts.js';

const shown = (keys: string): string => keys.split(',')[0]!.replace('shift+', '⇧ ').replace('>', ' then ');

export default function ShortcutHelp({ onClose }: { readonly onClose: () => void }) {
  const list = useShortcutList();
  return (
    <LibraryTheme>
      <Modal open title="Keyboard shortcuts" footer={null} onCancel={onClose} width={460}>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Key</th>
              <th scope="col">What it does</th>
            </tr>
          </thead>
          <tbody>
            {list.map(({ keys, what }) => (
              <tr key={keys + what}>
                <td>
                  <kbd className="figures">{shown(keys)}</kbd>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal>
    </LibraryTheme>
  );
}
