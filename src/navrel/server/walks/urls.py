"""The addresses of walks, preview links and remarks, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/walk", views.WalkView.as_view()),
    path("sites/<slug:site>/looked", views.LookedView.as_view()),
    path("sites/<slug:site>/marks", views.MarkView.as_view()),
    path("sites/<slug:site>/preview-links", views.LinksView.as_view()),
    path("sites/<slug:site>/preview-links/<int:number>", views.LinkView.as_view()),
    path("sites/<slug:site>/remarks", views.RemarksView.as_view()),
    path("sites/<slug:site>/remarks/<int:number>", views.RemarkView.as_view()),
    path("shared/<str:token>", views.SharedView.as_view()),
    path("shared/<str:token>/page", views.SharedPageView.as_view()),
    path("shared/<str:token>/remarks", views.SharedRemarksView.as_view()),
]
