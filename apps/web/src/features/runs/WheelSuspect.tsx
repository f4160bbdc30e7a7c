import { Button } from 'antd';
import type { RunDetail } from '@ebrix/contract';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useChangeRidingMutation } from '../../entities/run/index.js';

const ROUNDING = 1000;

/** Wheel and positions disagree surely: one click takes the wheel's way as the positions have it, and one more takes that back. */
export function WheelSuspect({ run }: { readonly run: RunDetail }) {
  const [change, { isLoading }] = useChangeRidingMutation();
  const notices = useNotices();
  const found = run.cleaning.speedComparison;
  if (!found?.isSuspect || run.wheelFactor !== null || run.deletedAt !== null) return null;
  const factor = Math.round(ROUNDING / found.ratio) / ROUNDING;
  const put = async (wheelFactor: number | null): Promise<void> => {
    const result = await change({ runIds: [run.id], riding: {}, wheelFactor });
    if (notices.failure(result) || wheelFactor === null) return;
    notices.undoable('wheel', `Wheel taken times ${wheelFactor}.`, () => void put(null));
  };
  return (
    <p className="caution mb-14">
      The wheel shows {found.ratio.toFixed(3)} times the distance of the positions: its circumference was probably set
      wrong.{' '}
      <Button size="small" loading={isLoading} onClick={() => void put(factor)}>
        Take the wheel times {factor}
      </Button>{' '}
      <span className="quiet">Better: measure it by rolling out, and type true/set under “Edit ride details”.</span>
    </p>
  );
}
