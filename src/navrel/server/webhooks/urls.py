"""The addresses of webhooks, below `/api/`."""

from django.urls import path

from . import views

_ONE = "sites/<slug:site>/webhooks/<int:number>"
urlpatterns = [
    path("sites/<slug:site>/webhooks", views.WebhooksView.as_view()),
    path(_ONE, views.WebhookView.as_view()),
    path(f"{_ONE}/sendings", views.SendingsView.as_view()),
    path(f"{_ONE}/sendings/<int:other>/again", views.AgainView.as_view()),
]
