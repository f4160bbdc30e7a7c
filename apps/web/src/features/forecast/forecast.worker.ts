import { answerHere, type AskedHere } from './forecast-here.js';

/** Many paths take a second or so: they are ridden beside the page, the newest question first. */
addEventListener('message', ({ data }: MessageEvent<AskedHere>) => postMessage(answerHere(data)));
