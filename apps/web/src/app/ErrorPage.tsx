import { Link, useRouteError } from 'react-router';
import { PlainButton } from '../shared/ui/PlainButton.js';
import { dropDrafts } from '../shared/ui/stored-draft.js';

/** An address that leads nowhere, or a page that broke. */
export function ErrorPage({ isUnknownPlace = false }: { readonly isUnknownPlace?: boolean }) {
  const error = useRouteError();
  return (
    <main className="page" id="main">
      <h1>{isUnknownPlace ? 'Page not found' : 'This page broke'}</h1>
      <p className="mt-12 mb-12 mx-0">
        {isUnknownPlace
          ? 'The address may be mistyped, or the item was deleted.'
          : 'Nothing saved was changed. Reload the page to continue.'}
      </p>
      {!isUnknownPlace && error instanceof Error && <p className="quiet figures">{error.message}</p>}
      {!isUnknownPlace && (
        <p>
          <PlainButton
            onClick={() => {
              dropDrafts(sessionStorage);
              location.reload();
            }}
          >
            Reload without unsaved typing
          </PlainButton>
        </p>
      )}
      <p>
        <Link to="/trials">To the trials</Link>
      </p>
    </main>
  );
}
