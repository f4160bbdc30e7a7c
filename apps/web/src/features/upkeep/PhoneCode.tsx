import { toDataURL } from 'qrcode';
import { useEffect, useState } from 'react';
import type { SignInCode } from '@ebrix/contract';
import { formatMoment } from '../../shared/format/format-quantity.js';

/** A picture for the phone's camera: it opens Ebrix there and signs it in, once. */
export function PhoneCode({ code: { code, expiresAt, addresses } }: { readonly code: SignInCode }) {
  const base = addresses[0] ?? location.origin;
  const isReachable = addresses.length > 0 || !/^(127\.|localhost$|\[::1\])/.test(location.hostname);
  const address = `${base}/enter#${code}`;
  const [picture, setPicture] = useState<string>();
  useEffect(() => {
    let isWanted = true;
    void toDataURL(address, { margin: 1, width: 232 }).then((url) => isWanted && setPicture(url));
    return () => {
      isWanted = false;
    };
  }, [address]);
  if (!isReachable)
    return (
      <p className="problem mt-8">
        Ebrix listens to this machine only, so no phone reaches it. Start it with <code>npm start -- --share</code>,
        then show the code again.
      </p>
    );
  return (
    <div className="phone-code mt-8">
      {picture && <img src={picture} width={232} height={232} alt="Code for the phone’s camera" />}
      <div>
        <p>
          Point the phone’s camera at it, in the same network. It works once, until {formatMoment(expiresAt)}; whoever
          takes a picture of it meanwhile could come in as you.
        </p>
        <p className="mt-6">
          Or open this there: <a href={address}>{address}</a>
        </p>
        {addresses.length > 1 && <p className="quiet mt-6">Other addresses: {addresses.slice(1).join(', ')}</p>}
        <p className="quiet mt-6">
          The phone warns of the certificate until it trusts this installation’s own:{' '}
          <a href={`${base}/api/authority.crt`}>authority.crt</a>, opened on the phone once, and switched on in its
          settings for certificates.
        </p>
      </div>
    </div>
  );
}
