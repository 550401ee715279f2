"""The addresses of news, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/news", views.NewsView.as_view()),
    path("sites/<slug:site>/news/unread", views.UnreadView.as_view()),
    path("sites/<slug:site>/news.atom", views.FeedView.as_view()),
]
