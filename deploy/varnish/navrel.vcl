# Navrel behind Varnish. It takes Debian's packages varnish and varnish-modules, and Navrel started with NAVREL_EDGE=1
# and NAVREL_SHARED_MAX_AGE=86400: pages are used for a day, and never beyond the moment at which they change.
#
# Have Navrel tell it of publications: a webhook of the site, of the kind "an order to drop the site", at
# http://127.0.0.1:6081/ (named in NAVREL_INNER_HOSTS, as it is not on the open web).
vcl 4.1;

import std;
import var;

# The token for published layouts, as: sub navrel_token { set req.http.Authorization = "Bearer navrel_…"; }
include "/etc/varnish/navrel-token.vcl";

backend navrel {
    .host = "127.0.0.1";
    .port = "8421";
    .first_byte_timeout = 20s;
    .probe = {
        .url = "/-/ready";
        .interval = 1s;
        .timeout = 2s;
        .window = 5;
        .threshold = 2;
        .initial = 5;
    }
}

# A program of your own, whose pages have slots of Navrel in them (Edge Side Includes), the same lines on every page:
#     <esi:include src="/-/include/styles"/>
#     <esi:include src="/-/include/slots/header"/>
backend pages {
    .host = "127.0.0.1";
    .port = "8080";
}

acl may_purge {
    "127.0.0.1";
    "::1";
}

sub vcl_recv {
    if (req.method == "PURGE") {
        return (synth(700));
    }
    if (req.restarts == 0) {
        unset req.http.Navrel-Again;
        unset req.http.Navrel-Page;
    } elsif (req.http.Navrel-Again == "old") {
        set req.hash_always_miss = true;
    } elsif (req.http.Navrel-Again == "stale") {
        set req.grace = 0s;
    }

    if (req.url ~ "^/-/include/") {
        if (req.esi_level == 0 || req.url !~ "^/-/include/(slots/[a-z0-9-]+|styles)$") {
            return (synth(404));
        }
        # For the page on which it is going to stand, parameters and all.
        set req.http.Navrel-Page = req_top.url;
        set req.url = regsub(req.url, "^/-/include/", "/-/layout/v1/marrowick/");
        call navrel_token;
        set req.backend_hint = navrel;
    } elsif (req.http.host ~ "^tickets\.example(:\d+)?$" && req.url !~ "^/-/") {
        # What your program answers is kept as it says itself; cookies are its own.
        set req.backend_hint = pages;
        return (pass);
    } else {
        set req.backend_hint = navrel;
    }
    call navrel_visitor;
    # Programs show tokens of their own, and are told what is theirs.
    if ((req.method != "GET" && req.method != "HEAD") || (req.url ~ "^/-/layout/" && !req.http.Navrel-Page)) {
        return (pass);
    }
    return (hash);
}

# Who asks, in few words. Only what makes a difference on a page is in the Vary of its answer, so a page that is the
# same for everybody is kept once. These patterns are those by which Navrel itself reads the headers.
sub navrel_visitor {
    set req.http.Navrel-Device = "desktop";
    if (req.http.User-Agent ~ "(?i)ipad|tablet|android(?!.*mobile)") {
        set req.http.Navrel-Device = "tablet";
    } elsif (req.http.User-Agent ~ "(?i)iphone|android.*mobile|mobile.*firefox") {
        set req.http.Navrel-Device = "phone";
    }
    set req.http.Navrel-Browser = "other";
    if (req.http.User-Agent ~ "Edg/") {
        set req.http.Navrel-Browser = "edge";
    } elsif (req.http.User-Agent ~ "Firefox/") {
        set req.http.Navrel-Browser = "firefox";
    } elsif (req.http.User-Agent ~ "Chrome/") {
        set req.http.Navrel-Browser = "chrome";
    } elsif (req.http.User-Agent ~ "Safari/") {
        set req.http.Navrel-Browser = "safari";
    }
    set req.http.Navrel-Languages = req.http.Accept-Language;
    unset req.http.Navrel-Referrer;
    if (req.http.Referer ~ "^https?://[^/:?#]") {
        set req.http.Navrel-Referrer = regsub(req.http.Referer, "^https?://([^/:?#]+).*$", "\1");
    }
    # The cookie in which the site's own sign-in puts its token. Whether that holds, Navrel finds out.
    unset req.http.Navrel-Member;
    if (req.http.Cookie ~ "(^|;\s*)ferries_member=") {
        set req.http.Navrel-Member = "1";
    }
}

sub vcl_hash {
    if (req.http.Navrel-Page) {
        hash_data(req.http.Navrel-Page);
    }
}

# What a cache was told is not served any more is not given, even where it came in late.
sub vcl_hit {
    if (obj.http.Navrel-Site && std.integer(obj.http.Navrel-Revision, 0) < std.integer(var.global_get(obj.http.Navrel-Site), 0)) {
        set req.http.Navrel-Again = "old";
        return (restart);
    }
    # While Navrel answers, what has grown old is given once more for as long as it says; while it does not, for a day.
    if (obj.ttl <= 0s && std.healthy(req.backend_hint)
        && obj.ttl + std.duration(obj.http.Navrel-Stale, 0s) <= 0s) {
        set req.http.Navrel-Again = "stale";
        return (restart);
    }
    return (deliver);
}

sub vcl_backend_response {
    if (bereq.backend == pages) {
        if (beresp.http.Content-Type ~ "^text/html") {
            set beresp.do_esi = true;
        }
        return (deliver);
    }
    if (bereq.http.Navrel-Page && beresp.status != 200) {
        # A page stands without what it could not be told.
        return (error(503));
    }
    if (beresp.status >= 500 && bereq.is_bgfetch) {
        # What is there is kept.
        return (abandon);
    }
    set beresp.http.Navrel-Site = regsub(beresp.http.Surrogate-Key, "^(site:[a-z0-9-]+) .*$", "\1");
    set beresp.http.Navrel-Stale = "0s";
    if (beresp.http.Cache-Control ~ "stale-while-revalidate=\d") {
        set beresp.http.Navrel-Stale = regsub(beresp.http.Cache-Control, "^.*stale-while-revalidate=(\d+).*$", "\1s");
    }
    if (beresp.http.Cache-Control ~ "s-maxage=[1-9]|immutable" && beresp.http.Cache-Control !~ "private") {
        set beresp.grace = 24h;
        return (deliver);
    }
    # Each asks for themselves.
    set beresp.uncacheable = true;
    set beresp.ttl = 10s;
    return (deliver);
}

sub vcl_backend_error {
    if (bereq.http.Navrel-Page) {
        set beresp.status = 200;
        set beresp.ttl = 0s;
        set beresp.uncacheable = true;
        synthetic("");
        return (deliver);
    }
}

sub vcl_deliver {
    if (req.backend_hint == navrel && resp.http.Navrel-Site) {
        # How long this server may keep an answer is its own affair: browsers ask again, and are told that nothing is new.
        if (resp.http.Cache-Control !~ "private|immutable") {
            set resp.http.Cache-Control = "no-cache";
        }
        # Whether it was there (RFC 9211).
        if (obj.hits > 0) {
            set resp.http.Cache-Status = "varnish; hit";
        } else {
            set resp.http.Cache-Status = "varnish; fwd=miss";
        }
        unset resp.http.Surrogate-Key;
        unset resp.http.Navrel-Site;
        unset resp.http.Navrel-Stale;
    }
}

# What is told of publications: from here on only what is of that revision, or of a later one, is given.
sub vcl_synth {
    if (resp.status == 700) {
        if (client.ip !~ may_purge) {
            set resp.status = 403;
        } elsif (req.http.Surrogate-Key !~ "^site:[a-z0-9-]+$" || req.http.Navrel-Revision !~ "^\d{1,9}$") {
            set resp.status = 400;
        } else {
            set resp.status = 204;
            if (std.integer(req.http.Navrel-Revision, 0) > std.integer(var.global_get(req.http.Surrogate-Key), 0)) {
                var.global_set(req.http.Surrogate-Key, req.http.Navrel-Revision);
                ban("obj.http.Navrel-Site == " + req.http.Surrogate-Key + " && obj.http.Navrel-Revision != " + req.http.Navrel-Revision);
            }
        }
        set resp.reason = "Purge";
        return (deliver);
    }
}
