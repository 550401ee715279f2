"""The addresses of guards, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/guards", views.GuardsView.as_view()),
    path("sites/<slug:site>/guards/proposed", views.ProposedGuardsView.as_view()),
    path("sites/<slug:site>/tried-guard", views.TriedGuardView.as_view()),
]
