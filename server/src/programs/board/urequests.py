"""The requests of a board, by those of the computer."""
import urllib.error
import urllib.request


class Answer:
    def __init__(self, status, text):
        self.status_code = status
        self.text = text

    def close(self):
        pass


def post(url, data, headers):
    request = urllib.request.Request(url, data=data.encode(), headers=headers)
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return Answer(answer.status, answer.read().decode())
    except urllib.error.HTTPError as error:
        return Answer(error.code, error.read().decode())
