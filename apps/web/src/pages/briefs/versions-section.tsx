import type { BriefVersions } from '@ypsigraph/contract/briefs';
import { briefChanges } from '@ypsigraph/contract/brief-changes';
import { day } from '../../kit/when.ts';

/** Every version, the newest first, with what it says other than the one before. */
export function VersionsSection({ versions }: { versions: BriefVersions['versions'] }) {
  return (
    <section aria-label="Versions" className="mt-5">
      <h2 className="mb-1 text-lg">Versions</h2>
      <ol className="space-y-2 text-sm">
        {versions.map((version, k) => {
          const before = versions[k + 1];
          const changes = before ? briefChanges(before, version) : [];
          return (
            <li key={version.id}>
              <p>
                <span className="frame-number font-medium">{version.version}</span>{' '}
                <span className="text-graphite">
                  {day(version.at)}
                  {version.author && `, ${version.author}`}; {version.shots} {version.shots === 1 ? 'shot' : 'shots'}
                </span>
              </p>
              {changes.length > 0 && (
                <ul className="list-disc pl-5 text-xs text-graphite">
                  {changes.slice(0, 12).map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </ul>
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
