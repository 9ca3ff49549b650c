"""The requests of a board, by those of the computer."""
import urllib.error
import urllib.request


class Answer:
    def __init__(self, status, content, headers):
        self.status_code = status
        self.content = content
        self.headers = dict(headers)

    @property
    def text(self):
        return self.content.decode()

    def close(self):
        pass


def post(url, data, headers):
    return ask(urllib.request.Request(url, data=data.encode(), headers=headers))


def get(url, headers):
    return ask(urllib.request.Request(url, headers=headers))


def ask(request):
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return Answer(answer.status, answer.read(), answer.headers)
    except urllib.error.HTTPError as error:
        return Answer(error.code, error.read(), error.headers)
