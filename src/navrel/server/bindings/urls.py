"""The addresses of bindings and finds, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/bindings", views.BindingsView.as_view()),
    path("sites/<slug:site>/bindings/tried", views.TriedBindingsView.as_view()),
    path("sites/<slug:site>/bindings/proposed", views.ProposedBindingsView.as_view()),
    path("sites/<slug:site>/bindings/picture", views.PlacePictureView.as_view()),
    path("sites/<slug:site>/finds", views.FindsView.as_view()),
]
