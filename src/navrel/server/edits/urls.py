"""The addresses of edits, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/presence", views.PresenceView.as_view()),
    path("sites/<slug:site>/edits", views.EditsView.as_view()),
    path("sites/<slug:site>/edits/<int:number>/undo", views.UndoView.as_view()),
    path("sites/<slug:site>/edits/<int:number>/redo", views.RedoView.as_view()),
]
