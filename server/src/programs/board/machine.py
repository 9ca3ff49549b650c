"""A board that wakes by being started again."""


def deepsleep(milliseconds):
    print("sleeps", milliseconds, "ms")
    raise SystemExit(0)
