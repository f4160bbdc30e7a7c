import { Button } from 'antd';
import { PROPOSED_LEVEL, PROPOSED_WAY } from '@ebrix/core/analysis';
import { effortSchema, type RidingChange, type RunDetail } from '@ebrix/contract';
import { useChangeRidingMutation } from '../../entities/run/index.js';

/** What the log says of how it was ridden, to be confirmed: nothing is taken for said in silence. */
export function ProposedRiding({ run }: { readonly run: RunDetail }) {
  const [change, { isLoading }] = useChangeRidingMutation();
  if (run.riding.way !== null) return null;
  const way = run.warnings.find(({ code }) => code.startsWith(PROPOSED_WAY));
  const level = run.warnings.find(({ code }) => code.startsWith(PROPOSED_LEVEL));
  const proposed = effortSchema.safeParse(way?.code.slice(PROPOSED_WAY.length));
  const riding: RidingChange['riding'] = {
    ...(proposed.success && { way: proposed.data }),
    ...(level && { level: level.code.slice(PROPOSED_LEVEL.length) }),
  };
  if (Object.keys(riding).length === 0) return null;
  return (
    <p className="teach mb-14">
      {[way?.message, level?.message].filter(Boolean).join(' ')}{' '}
      <Button size="small" loading={isLoading} onClick={() => void change({ runIds: [run.id], riding })}>
        Yes, write that down
      </Button>
    </p>
  );
}
