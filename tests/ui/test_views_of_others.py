"""The views of learners, of the office, of whoever has nothing yet, and of a server that answers nothing: as open."""

import re

from tests.support.views import VIEWS_OF_OFFICE, Views
from tracebench.demo import cast


class ViewsOfOthers(Views):
    def test_nobody_is_shut_out_of_the_learners_and_the_offices(self):
        learner = self.as_(cast.LEARNERS[0].sign_in)
        self.looked(learner, self.views_of_learner(learner))
        self.looked(self.as_(cast.ADMINISTRATOR[0]), list(VIEWS_OF_OFFICE))

    def test_nor_of_what_is_empty_wrong_or_before_signing_in(self):
        self.looked(self.person(), ["/", "/join#nothing"])
        empty = [
            "/",
            "/shelf",
            "/cards",
            "/marking",
            "/marking/now",
            "/skill",
            "/courses",
            "/jobs",
            "/suspects",
            "/toolbox",
        ]
        self.looked(self.as_("new.instructor"), [*empty, "/shelf/999999", "/marking/999999", "/nowhere"])
        self.looked(self.as_("new.learner"), ["/", "/cards", "/skill", "/sittings/999999"])
        broken = self.as_(cast.INSTRUCTOR[0])
        told = {"status": 500, "json": {"detail": "the database does not answer; try again in a minute"}}
        broken.page.route(re.compile(r"/api/(?!session|facts)"), lambda route: route.fulfill(**told))
        self.looked(broken, ["/shelf", "/shelf/1", "/cards", "/marking", "/courses"])
