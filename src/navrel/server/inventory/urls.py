"""The addresses of sites, pages and intakes, below `/api/`."""

from django.urls import path

from . import intake_views, views

urlpatterns = [
    path("sites", views.SitesView.as_view()),
    path("sites/<slug:site>", views.SiteInfoView.as_view()),
    path("sites/<slug:site>/set-up", views.SetUpView.as_view()),
    path("sites/<slug:site>/archived", views.ArchivedView.as_view()),
    path("sites/<slug:site>/pages", views.PagesView.as_view()),
    path("sites/<slug:site>/page-fact", views.PageFactView.as_view()),
    path("sites/<slug:site>/page", views.PageView.as_view()),
    path("sites/<slug:site>/terms", views.TermsView.as_view()),
    path("sites/<slug:site>/by-hand", views.ByHandView.as_view()),
    path("sites/<slug:site>/intakes", intake_views.IntakesView.as_view()),
    path("sites/<slug:site>/intakes/<int:number>", intake_views.IntakeView.as_view()),
    path("sites/<slug:site>/intakes/unfinished", intake_views.CrawlsView.as_view()),
    path("sites/<slug:site>/intakes/<int:number>/asked", intake_views.CrawledView.as_view()),
    path("sites/<slug:site>/intakes/<int:number>/source", intake_views.IntakeSourceView.as_view()),
    path("sites/<slug:site>/intakes/<int:number>/finish", intake_views.FinishIntakeView.as_view()),
]
