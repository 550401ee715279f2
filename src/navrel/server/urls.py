"""The application's addresses: the API, and the interface for everything else."""

from __future__ import annotations

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.urls import path, re_path
from drf_spectacular.views import SpectacularJSONAPIView

from navrel.server.accounts.views import SessionView
from navrel.server.inventory import views as inventory
from navrel.server.library import views as library
from navrel.server.problems import CONTENT_TYPE
from navrel.server.publishing import views as publishing
from navrel.server.rules import views as rules


def interface(request: HttpRequest) -> HttpResponseBase:
    """The one page of the interface; its own router reads the address."""
    page = settings.WHITENOISE_ROOT / "index.html"
    if not page.is_file():
        return HttpResponse("The front end is not built. Run ./navrel start.", status=503, content_type="text/plain")
    return FileResponse(page.open("rb"), content_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"})


def no_such_address(request: HttpRequest) -> HttpResponse:
    """An API address that is not there."""
    body = {"type": "about:blank#not-found", "title": "There is nothing at this address", "status": 404,
            "detail": "", "code": "not-found"}  # fmt: skip
    return JsonResponse(body, status=404, content_type=CONTENT_TYPE)


_SITE = "api/sites/<slug:site>"

urlpatterns = [
    path("api/schema", SpectacularJSONAPIView.as_view(), name="schema"),
    path("api/session", SessionView.as_view()),
    path("api/item-types", library.ItemTypesView.as_view()),
    path("api/sites", inventory.SitesView.as_view()),
    path(_SITE, inventory.SiteInfoView.as_view()),
    path(f"{_SITE}/pages", inventory.PagesView.as_view()),
    path(f"{_SITE}/page", inventory.PageView.as_view()),
    path(f"{_SITE}/search", inventory.SearchView.as_view()),
    path(f"{_SITE}/choices", inventory.ChoicesView.as_view()),
    path(f"{_SITE}/completion", inventory.CompletionView.as_view()),
    path(f"{_SITE}/intakes", inventory.IntakesView.as_view()),
    path(f"{_SITE}/intakes/<int:number>", inventory.IntakeView.as_view()),
    path(f"{_SITE}/intakes/<int:number>/finish", inventory.FinishIntakeView.as_view()),
    path(f"{_SITE}/layout", rules.LayoutView.as_view()),
    path(f"{_SITE}/trace", rules.TraceView.as_view()),
    path(f"{_SITE}/pins", rules.PinsView.as_view()),
    path(f"{_SITE}/lens", rules.LensView.as_view()),
    path(f"{_SITE}/reach", rules.ReachView.as_view()),
    path(f"{_SITE}/query", rules.QueryView.as_view()),
    path(f"{_SITE}/suggestions", rules.SuggestionsView.as_view()),
    path(f"{_SITE}/rules", rules.RulesView.as_view()),
    path(f"{_SITE}/rules/<int:number>", rules.RuleView.as_view()),
    path(f"{_SITE}/rules/<int:number>/copy", rules.CopyRuleView.as_view()),
    path(f"{_SITE}/rules/<int:number>/place", rules.PlaceRuleView.as_view()),
    path(f"{_SITE}/pieces", library.PiecesView.as_view()),
    path(f"{_SITE}/piece-pages", library.PiecePagesView.as_view()),
    path(f"{_SITE}/pieces/<slug:piece>", library.PieceView.as_view()),
    path(f"{_SITE}/pieces/<slug:piece>/copy", library.CopyPieceView.as_view()),
    path(f"{_SITE}/pieces/<slug:piece>/uses", library.PieceUsesView.as_view()),
    path(f"{_SITE}/picture", library.PictureView.as_view()),
    path(f"{_SITE}/preview", publishing.PreviewView.as_view()),
    path(f"{_SITE}/changes", publishing.ChangesView.as_view()),
    path(f"{_SITE}/revisions", publishing.RevisionsView.as_view()),
    re_path(r"^api(?:/.*)?$", no_such_address),
    re_path(r"^(?!assets/).*$", interface),
]
