import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';
import { moved, SECTION_NAMES, type ListedPart } from './report-draft.js';

interface Props {
  readonly parts: readonly ListedPart[];
  readonly onChange: (parts: readonly ListedPart[]) => void;
}

/** Sections to tick and to put in order by dragging or by the arrows, with own words between. */
export function ReportParts({ parts, onChange }: Props) {
  const [dragged, setDragged] = useState<number>();
  const replace = (k: number, part: ListedPart): void => onChange(parts.map((one, j) => (j === k ? part : one)));
  const nameOf = (part: ListedPart): string => (part.kind === 'section' ? SECTION_NAMES[part.section] : 'Own words');
  return (
    <div role="group" aria-label="Sections">
      <p className="mb-8">
        <strong>Sections</strong> <span className="quiet">drag them into order</span>
      </p>
      <ol className="report-parts">
        {parts.map((part, k) => (
          <li
            key={part.id}
            draggable
            className={dragged === k ? 'dragged' : undefined}
            onDragStart={() => setDragged(k)}
            onDragEnd={() => setDragged(undefined)}
            onDragOver={(event) => {
              event.preventDefault();
              if (dragged === undefined || dragged === k) return;
              onChange(moved(parts, dragged, k));
              setDragged(k);
            }}
          >
            {part.kind === 'section' ? (
              <Checkbox checked={part.isOn} onChange={({ target }) => replace(k, { ...part, isOn: target.checked })}>
                {nameOf(part)}
              </Checkbox>
            ) : (
              <Input.TextArea
                value={part.markdown}
                autoSize={{ minRows: 2, maxRows: 12 }}
                maxLength={20_000}
                placeholder="Own words, as plain Markdown"
                aria-label={`Own words ${k + 1}`}
                onChange={({ target }) => replace(k, { ...part, markdown: target.value })}
              />
            )}
            <span className="part-moves">
              <Button
                size="small"
                disabled={k === 0}
                aria-label={`${nameOf(part)} up`}
                onClick={() => onChange(moved(parts, k, k - 1))}
              >
                ↑
              </Button>
              <Button
                size="small"
                disabled={k === parts.length - 1}
                aria-label={`${nameOf(part)} down`}
                onClick={() => onChange(moved(parts, k, k + 1))}
              >
                ↓
              </Button>
              {part.kind === 'text' && (
                <Button
                  size="small"
                  aria-label={`Remove own words ${k + 1}`}
                  onClick={() => onChange(parts.filter((_, j) => j !== k))}
                >
                  Remove
                </Button>
              )}
            </span>
          </li>
        ))}
      </ol>
      <Button
        size="small"
        onClick={() => onChange([...parts, { id: `own-${parts.length}-${Date.now()}`, kind: 'text', markdown: '' }])}
      >
        Add own words
      </Button>
    </div>
  );
}
