"""The addresses of what pages come to, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/boundaries", views.BoundariesView.as_view()),
    path("sites/<slug:site>/findings", views.FindingsView.as_view()),
    path("sites/<slug:site>/findings/<slug:key>/aside", views.AsideView.as_view()),
    path("sites/<slug:site>/layout", views.LayoutView.as_view()),
    path("sites/<slug:site>/looks", views.LooksView.as_view()),
    path("sites/<slug:site>/measured", views.MeasuredView.as_view()),
    path("sites/<slug:site>/places", views.PlacesView.as_view()),
    path("sites/<slug:site>/trace", views.TraceView.as_view()),
    path("sites/<slug:site>/unlike", views.UnlikeView.as_view()),
    path("sites/<slug:site>/why-not", views.WhyNotView.as_view()),
]
