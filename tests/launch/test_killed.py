"""What serves, and the database, killed in the middle of publications: always old or new and whole, and back again."""

import random

import pytest
from navrel_faults.installation import Installation
from navrel_faults.killing import kill_again_and_again

pytestmark = pytest.mark.xdist_group("running")
TIMES, KINDS = 8, ("worker", "database", "master")


def test_kills_in_the_middle_of_publications_leave_everything_whole(tmp_path):
    here = Installation(tmp_path)
    here.start()
    try:
        kill_again_and_again(here, random.Random(), TIMES, KINDS)
    except TimeoutError:
        print(here.said())
        raise
    finally:
        here.end()
