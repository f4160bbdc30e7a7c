#!/usr/bin/env python3
"""A logger for Ebrix in plain Python: python3 logger.py http://127.0.0.1:4180 "Box 1" [--seconds 60] [--rate 10]

Replace `measure` by your own sensors. Every line is kept until the server said that it is on disk, and is sent again where that
word never came: a line that breaks, a server that is away, loses nothing as long as the buffer lasts (one hour at ten a second).
The protocol is in docs/logger-protocol.md. Nothing but the standard library is needed.
"""
import argparse
import collections
import json
import math
import ssl
import threading
import time
import urllib.error
import urllib.request

CHANNELS = ["speed", "distance", "voltage", "current", "motorTemperature"]
BUFFER_LINES = 36_000
LINES_A_REQUEST = 2_000
SEND_EVERY_S = 0.5
LONGEST_PAUSE_S = 30


def measure(t):
    """What the sensors say, in the order of CHANNELS: km/h, m, V, A, degrees C; None where one says nothing."""
    speed = 20 + 2 * math.sin(t / 9)
    return [round(speed, 2), round(20 / 3.6 * t, 1), round(50 - t / 900, 2), round(6 + math.sin(t / 7), 2), round(30 + t / 60, 1)]


class Logger:
    def __init__(self, url, name, secret=None, authority=None):
        self.url = url.rstrip("/") + "/api/logger/lines"
        self.hello = {"protocol": 1, "logger": name, "session": f"py-{int(time.time())}", "channels": CHANNELS}
        if secret:
            self.hello["secret"] = secret
        self.tls = ssl.create_default_context(cafile=authority) if url.startswith("https") else None
        self.lines = collections.deque(maxlen=BUFFER_LINES)
        self.lock = threading.Lock()
        self.begun = time.monotonic()
        self.made = 0

    def sample(self):
        t = time.monotonic() - self.begun
        with self.lock:
            self.lines.append((self.made, json.dumps([self.made, round(t, 3), *measure(t)])))
            self.made += 1

    def send(self, is_last=False):
        """Sends what is kept. True when the server has all of it."""
        with self.lock:
            some = [self.lines[k] for k in range(min(LINES_A_REQUEST, len(self.lines)))]
        is_all = len(some) == len(self.lines)
        body = [json.dumps({"hello": self.hello}), *(line for _, line in some)]
        if is_last and is_all:
            body.append('{"bye":true}')
        request = urllib.request.Request(
            self.url, "\n".join(body).encode(), {"Content-Type": "application/x-ndjson"}
        )
        with urllib.request.urlopen(request, timeout=10, context=self.tls) as response:
            json.load(response)
        # Answered: all of this request is on disk.
        last = some[-1][0] if some else -1
        with self.lock:
            while self.lines and self.lines[0][0] <= last:
                self.lines.popleft()
        return is_all

    def run(self, seconds, rate):
        stop = threading.Event()

        def keep_sampling():
            due = time.monotonic()
            while not stop.is_set():
                self.sample()
                due += 1 / rate
                time.sleep(max(0, due - time.monotonic()))

        sampling = threading.Thread(target=keep_sampling, daemon=True)
        sampling.start()
        pause = SEND_EVERY_S
        end = time.monotonic() + seconds
        while True:
            is_over = time.monotonic() >= end
            if is_over:
                stop.set()
                sampling.join()
            try:
                if self.send(is_last=is_over) and is_over:
                    return
                pause = SEND_EVERY_S
            except urllib.error.HTTPError as error:
                if error.code in (400, 403, 409):
                    raise SystemExit(f"Refused: {error.read().decode()}") from error
                pause = min(2 * pause, LONGEST_PAUSE_S)
            except (OSError, ValueError):
                # The line broke, or what came back was cut off: the same lines once more.
                pause = min(2 * pause, LONGEST_PAUSE_S)
            time.sleep(pause if not is_over else min(pause, 1))


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description="A logger for Ebrix.")
    parser.add_argument("url")
    parser.add_argument("logger", help="name of the logger on the bench")
    parser.add_argument("--secret", help="of the logger, where it was given one")
    parser.add_argument("--authority", help="certificate of the authority that npm start -- --share made")
    parser.add_argument("--seconds", type=float, default=3600)
    parser.add_argument("--rate", type=float, default=10, help="samples a second, at most 50")
    asked = parser.parse_args()
    logger = Logger(asked.url, asked.logger, asked.secret, asked.authority)
    logger.run(asked.seconds, min(50, asked.rate))
    print(json.dumps({"session": logger.hello["session"], "lines": logger.made}))
