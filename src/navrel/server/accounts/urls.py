"""The addresses of sign-in, and of the people of a site."""

from django.urls import path

from . import views

urlpatterns = [
    path("session", views.SessionView.as_view()),
    path("password", views.PasswordView.as_view()),
    path("sign-ins", views.SignInsView.as_view()),
    path("second-factor", views.FactorView.as_view()),
    path("second-factor/end", views.FactorEndView.as_view()),
    path("tokens", views.TokensView.as_view()),
    path("tokens/<int:number>", views.TokenView.as_view()),
    path("first/<str:token>", views.FirstView.as_view()),
    path("invited/<str:token>", views.InvitedView.as_view()),
    path("sites/<slug:site>/people", views.PeopleView.as_view()),
    path("sites/<slug:site>/people/<str:name>", views.PersonView.as_view()),
    path("sites/<slug:site>/invitations", views.InvitationsView.as_view()),
    path("sites/<slug:site>/invitations/<int:number>", views.InvitationView.as_view()),
]
