"""The addresses of the recipe, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/recipe", views.RecipeView.as_view()),
    path("sites/<slug:site>/recipe/tried", views.TriedRecipeView.as_view()),
    path("sites/<slug:site>/recipe/proposed", views.ProposedRecipeView.as_view()),
]
