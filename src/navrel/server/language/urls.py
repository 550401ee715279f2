"""The addresses of what is asked in, and about, the language; below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/query", views.QueryView.as_view()),
    path("sites/<slug:site>/opposite", views.OppositeView.as_view()),
    path("sites/<slug:site>/search", views.SearchView.as_view()),
    path("sites/<slug:site>/choices", views.ChoicesView.as_view()),
    path("sites/<slug:site>/completion", views.CompletionView.as_view()),
    path("sites/<slug:site>/lens", views.LensView.as_view()),
    path("sites/<slug:site>/schedule", views.ScheduleView.as_view()),
    path("sites/<slug:site>/suggestions", views.SuggestionsView.as_view()),
]
