import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSignInByCodeMutation } from '../../entities/account/index.js';
import { Page } from '../../shared/ui/Page.js';
import { Problem } from '../../shared/ui/QueryView.js';

/** Where a phone arrives with its code: signed in, it goes to the rides. */
export default function EnterPage() {
  // Behind the hash, so that it is in no log of anything on the way.
  const [code] = useState(() => location.hash.slice(1));
  const navigate = useNavigate();
  const [signIn, { error }] = useSignInByCodeMutation();
  useEffect(() => {
    if (code === '') return;
    history.replaceState(null, '', '/enter');
    void signIn(code).then(({ data }) => data && navigate('/ride', { replace: true }));
  }, [code, signIn, navigate]);
  return (
    <Page title="Coming in">
      {code === '' ? (
        <p>
          There is no code in this address. Show one under Upkeep, People, at a machine that is signed in.{' '}
          <Link to="/trials">To the trials</Link>
        </p>
      ) : error === undefined ? (
        <p role="status">Signing this device in …</p>
      ) : (
        <Problem error={error} />
      )}
    </Page>
  );
}
