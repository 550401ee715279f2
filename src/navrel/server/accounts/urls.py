"""The addresses of sign-in."""

from django.urls import path

from . import views

urlpatterns = [path("session", views.SessionView.as_view())]
