"""What the checks find, as the API tells it: about what, in words, with its pages, and anew after each edit."""


def rule_on(include):
    return {
        "name": "Wind up there",
        "condition": {"include": include},
        "actions": [{"do": "append", "slot": "above-header", "piece": "wind-line"}],
    }


def findings(api, **query):
    return api.get("findings", **query).json()


def test_findings_lead_to_the_rule_or_the_piece_that_they_are_about(api):
    made = api.post("rules", rule_on("page:/nowhere-at-all")).json()
    found = [one for one in findings(api)["items"] if one["rule"] == made["id"]]
    assert {one["check"] for one in found} >= {"gone"}
    assert all(one["what"] and one["why"] and one["mend"] and one["piece"] is None for one in found)
    assert not [one for one in findings(api)["items"] if one["rule"] == made["id"] + 1]


def test_what_is_said_twice_on_a_page_is_told_after_the_edit_and_not_before(api):
    def doubled():
        told = [one for one in findings(api)["items"] if one["check"] == "twice" and one["piece"] == "winter-notice"]
        return [page["path"] for one in told for page in one["pages"]]

    assert "/contact" not in doubled()
    api.post("rules", rule_on("page:/contact"))
    assert "/contact" in doubled()


def test_the_list_is_bounded(api):
    whole = findings(api)
    part = findings(api, limit=1, offset=1)
    assert part["items"] == whole["items"][1:2]
    assert part["total"] == whole["total"] > 2
