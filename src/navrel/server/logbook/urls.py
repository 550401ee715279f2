"""The addresses of the log, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/log", views.LogView.as_view()),
    path("sites/<slug:site>/log.jsonl", views.LogFileView.as_view()),
]
