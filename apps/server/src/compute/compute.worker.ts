import { TASKS, type TaskInput, type TaskName } from './tasks.js';

/** Entry of a pool thread: one task, plain data in and out. */
export default function runTask<N extends TaskName>({ name, input }: { name: N; input: TaskInput<N> }): unknown {
  return (TASKS[name] as (input: TaskInput<N>) => unknown)(input);
}
