"""The addresses of layout files, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/layout-file", views.LayoutFileView.as_view()),
    path("sites/<slug:site>/layout-file/look", views.LookView.as_view()),
    path("sites/<slug:site>/layout-file/take-in", views.TakeInView.as_view()),
]
